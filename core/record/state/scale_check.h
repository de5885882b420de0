#pragma once
#include <optional>
#include <string>

#include "record/state/state.h"

namespace clendo {

/// Whether the scale that a look's cladding gives fits one of the kept calibrations; a sentence where it fits none: another tip, another zoom,
/// or a fibre whose cladding is not 125 um. Nothing where no scope was calibrated. Judged is always by the cladding.
std::optional<std::string> scaleDisagrees(const JobState& state, const face::FaceMeasurement& look);

}  // namespace clendo
