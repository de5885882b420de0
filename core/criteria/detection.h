#pragma once
#include <string>
#include <string_view>
#include <vector>

#include "files/rule_files.h"
#include "result/result.h"
#include "units/units.h"

namespace clendo {

/// How small dirt may be and still be found, by the scale and the blur of a picture (data/face/detection.json, made by benchmarks/detection).
struct DetectionTable {
    std::vector<double> scales;                 ///< um a pixel, rising
    std::vector<double> blurs;                  ///< sigma in um, as the picture shows it, rising
    std::vector<std::vector<double>> smallest;  ///< um, by scale and blur; never falling

    /// The smallest size that is surely found. Between the table's places by straight lines; where nothing was measured (coarser, more blurred, or no
    /// table at all) no less than the root of squares of two pixels and 1.5 sigma of the blur.
    [[nodiscard]] Micrometre surelyFound(Scale scale, Micrometre blur) const;
};

/// Refuses tables with holes, or that say that less shows more.
Result<DetectionTable> parseDetection(std::string_view json);
Result<DetectionTable> loadDetection(const RuleFiles& rules);

}  // namespace clendo
