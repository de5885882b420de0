#pragma once
#include "otdr/analysis.h"
#include "record/facts/fact_reading.h"
#include "reel/cuts.h"
#include "reel/reel_report.h"

namespace clendo {

class FactEffects;
struct EntryHead;
struct JobState;

/// A reel of cable as it was ordered and as it came: marks on its sheath, the supplier's figures. A later one of the same name replaces it.
struct ReelDelivered {
    static constexpr std::string_view factKind = "reel_delivered", factWords = "reel";
    reel::Delivery delivery;

    [[nodiscard]] nlohmann::json body() const;
    static ReelDelivered read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return delivery.reel; }
    [[nodiscard]] Claim claim() const { return {"reel", delivery.reel}; }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// A photograph of a reel: its drum, its label, a damage.
struct ReelPictured {
    static constexpr std::string_view factKind = "reel_pictured", factWords = "reel";
    std::string reel;
    std::string picture;  ///< SHA-256 of the evidence
    std::string pictureName;
    std::string says;  ///< what it shows; empty: not said

    [[nodiscard]] nlohmann::json body() const { return {{"reel", reel}, {"picture", picture}, {"picture_name", pictureName}, {"says", says}}; }
    static ReelPictured read(FactReading& in) { return {in.text("reel"), in.text("picture"), in.text("picture_name"), in.textOr("says", "")}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return reel; }
    [[nodiscard]] std::string evidence() const { return picture; }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// Which fibres of a reel are tested for all: drawn at random, with the seed that draws the same ones again.
struct ReelSampled {
    static constexpr std::string_view factKind = "reel_sampled", factWords = "reel";
    std::string reel;
    std::string level;  ///< of the sampling plan: "II"
    double aql = 0;     ///< acceptance quality limit, percent
    std::uint32_t seed = 0;
    reel::Sample sample;

    [[nodiscard]] nlohmann::json body() const;
    static ReelSampled read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return reel; }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// A temporary joint to a fibre of a reel, and which of its steps were ticked.
struct ReelJointMade {
    static constexpr std::string_view factKind = "reel_joint", factWords = "reel";
    std::string reel;
    int fibre = 1;
    std::string kind;                     ///< its title, as it was shown: "mechanical splice and a pigtail"
    std::string part;                     ///< which one, so that its uses are counted; empty: not said
    std::vector<std::string> done, left;  ///< steps, by their ids: ticked; not ticked

    [[nodiscard]] nlohmann::json body() const;
    static ReelJointMade read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return reel; }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// A trace into a fibre of a reel, and what was found in it: the baseline, once the cable is laid.
struct ReelTraced {
    static constexpr std::string_view factKind = "reel_traced", factWords = "trace of a reel";
    std::string reel;
    int fibre = 1;
    std::string trace;  ///< SHA-256 of the evidence
    std::string traceName;
    Nanometre wavelength;
    Metre launch;        ///< 0: without a launch cord
    std::string cord{};  ///< the launch cord, by its name in the kit; empty: none, or not said
    Metre spacing;       ///< of the trace's points
    otdr::Analysis found;

    [[nodiscard]] nlohmann::json body() const;
    static ReelTraced read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return reel; }
    [[nodiscard]] std::string evidence() const { return trace; }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// What somebody decided of a reel.
struct ReelDecided {
    static constexpr std::string_view factKind = "reel_decided", factWords = "reel";
    std::string reel;
    reel::ReelVerdict verdict = reel::ReelVerdict::NotJudged;   ///< of the person
    reel::ReelVerdict proposed = reel::ReelVerdict::NotJudged;  ///< what was proposed then
    std::string note;

    [[nodiscard]] nlohmann::json body() const;
    static ReelDecided read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return reel; }
    [[nodiscard]] Claim claim() const { return {"decision on reel", reel}; }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// Which reel serves which run. A later one replaces it.
struct CutsPlanned {
    static constexpr std::string_view factKind = "cuts_planned", factWords = "cutting plan";
    reel::CuttingWish wish;
    std::vector<reel::ReelCuts> cuts;
    bool byHand = false;  ///< somebody changed what was searched

    [[nodiscard]] nlohmann::json body() const;
    static CutsPlanned read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] Claim claim() const { return {"cutting plan", ""}; }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// From which reel a cable of the plan was laid.
struct CableLaid {
    static constexpr std::string_view factKind = "cable_laid", factWords = "cable laid";
    std::string cable, reel;
    bool shotEndAtA = true;  ///< the end into which the reel was shot is the cable's end A

    [[nodiscard]] nlohmann::json body() const { return {{"cable", cable}, {"reel", reel}, {"shot_end_at_a", shotEndAtA}}; }
    static CableLaid read(FactReading& in) { return {in.text("cable"), in.text("reel"), in.flagOr("shot_end_at_a", true)}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    [[nodiscard]] std::string subject() const { return cable; }
    [[nodiscard]] Claim claim() const { return {"cable laid", cable}; }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

}  // namespace clendo
