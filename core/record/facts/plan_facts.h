#pragma once
#include "plant/plan.h"
#include "record/facts/fact_reading.h"

namespace clendo {

struct JobPlan;
struct JobState;

/// A cable with its places, panels and splices; a later one of the same name replaces it.
struct CablePlanned {
    static constexpr std::string_view factKind = "cable_planned", factWords = "plan";
    CablePlan cable;

    [[nodiscard]] nlohmann::json body() const;
    static CablePlanned read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return cable.id; }
    [[nodiscard]] Claim claim() const { return {"plan", cable.id}; }
    void plan(JobPlan& plan) const;
};

}  // namespace clendo
