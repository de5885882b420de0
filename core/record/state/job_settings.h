#pragma once
#include <nlohmann/json.hpp>
#include <string>
#include <string_view>
#include <vector>

#include "power/loss.h"
#include "record/state/policy.h"
#include "units/units.h"

namespace clendo {

/// The job's settings as they stand. Each is filed by itself (SettingSet): who sets one does not undo another's.
struct JobSettings {
    std::string name;
    std::string edition = "2015";
    std::string limits = "generic-sm";
    std::vector<std::string> alsoLimits{};  ///< sets against which a certificate holds the loss as well
    ReferenceMethod method = ReferenceMethod::OneCord;
    std::vector<int> wavelengths{1310, 1550};
    int attempts = 5;             ///< cleanings before somebody has to decide
    bool stopAtFirstBad = false;  ///< of a ferrule with several fibres: clean as soon as one is bad, instead of looking at all first
    Metre launchCord{150}, tailCord{150};
    Policies policies;  ///< answers that differ from the default
};

/// A setting under the name by which it is filed: "attempts", "policy.open"; its value as JSON.
struct Setting {
    std::string key;
    nlohmann::json value;
};

/// All settings that have a value, in a fixed order; policies that are answered by default have none.
std::vector<Setting> settingsOf(const JobSettings& job);
/// What has to be set so that `before` becomes `after`. A policy that goes back to its default is set to null.
std::vector<Setting> settingsChanged(const JobSettings& before, const JobSettings& after);
/// Sets one; false, and nothing changed, where there is no such setting or it cannot have this value.
bool applySetting(JobSettings& job, std::string_view key, const nlohmann::json& value);
/// A setting's name for people: "attempts", "open"; of an unknown one its key.
std::string settingWords(std::string_view key);

}  // namespace clendo
