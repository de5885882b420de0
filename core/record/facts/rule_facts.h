#pragma once
#include "record/facts/fact_reading.h"
#include "record/state/rules.h"

namespace clendo {

struct JobPlan;
struct JobState;

/// Acceptance criteria of the house, as the text of their file; a later one of the same edition replaces the earlier.
struct CriteriaKept {
    static constexpr std::string_view factKind = "profile_kept", factWords = "criteria";
    std::string edition;
    std::string text;

    [[nodiscard]] nlohmann::json body() const { return {{"edition", edition}, {"text", text}}; }
    static CriteriaKept read(FactReading& in) { return {in.text("edition"), in.text("text")}; }
    [[nodiscard]] std::string sentence(const JobState&) const { return "Criteria kept: " + edition; }
    [[nodiscard]] Claim claim() const { return {"criteria", edition}; }
    void plan(JobPlan& plan) const;
};

/// A rule file that the job uses (criteria, limits, fibre constants), as it was when the job first used it: with it the job opens elsewhere with
/// the same verdicts. A later one of the same name replaces the earlier.
struct RulesKept {
    static constexpr std::string_view factKind = "rules_kept", factWords = "rules";
    std::string file;  ///< below the data folder, "limits/generic-sm.json", or the path of a user's own
    std::string text;

    [[nodiscard]] nlohmann::json body() const { return {{"file", file}, {"text", text}}; }
    static RulesKept read(FactReading& in) { return {in.text("file"), in.text("text")}; }
    [[nodiscard]] std::string sentence(const JobState&) const { return "Rules kept with the job: " + file; }
    [[nodiscard]] Claim claim() const { return {"rules", file}; }
    void plan(JobPlan& plan) const;
};

}  // namespace clendo
