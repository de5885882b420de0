#pragma once
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "files/rule_files.h"
#include "result/result.h"
#include "units/units.h"

namespace clendo {

/// What one kind of fibre may be and lose, so that an application works over it.
struct ApplicationChannel {
    Metre length;                        ///< at most
    Decibel loss;                        ///< at most, connections included
    std::optional<Decibel> leastLoss;    ///< less would be too much light for the receiver
    std::optional<Decibel> reflectance;  ///< of any one joint, at most: -35 dB
    std::vector<Nanometre> wavelengths;  ///< at which it works, or the nearest of which attenuations are known
};

/// From data/limits/applications.json.
struct Application {
    std::string name;
    std::string confidence;                              ///< "H" or "M": whether the figures are sure
    std::map<std::string, ApplicationChannel> channels;  ///< by fibre; that of "OS2" holds for every single-mode fibre

    /// Null: it has no channel for such a fibre.
    [[nodiscard]] const ApplicationChannel* on(std::string_view fibre) const;
};

/// All applications whose limits are known. Errors: LimitsUnknown where the file is damaged, naming the place.
Result<std::vector<Application>> loadApplications(const RuleFiles& rules);

}  // namespace clendo
