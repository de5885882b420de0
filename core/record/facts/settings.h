#pragma once
#include "record/facts/fact_reading.h"
#include "record/state/job_settings.h"

namespace clendo {

struct JobPlan;
struct JobState;

/// One of the job's settings; a later one of the same key replaces the earlier.
struct SettingSet {
    static constexpr std::string_view factKind = "setting_set", factWords = "settings";
    std::string key;
    std::string value;  ///< JSON

    [[nodiscard]] nlohmann::json body() const;
    static SettingSet read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] Claim claim() const { return {"setting", key}; }
    void plan(JobPlan& plan) const;
};

}  // namespace clendo
