#pragma once
#include "record/facts/fact_reading.h"

namespace clendo {

class FactEffects;
struct EntryHead;
struct JobState;

/// Something that is carried along: a scope, a tip, a cleaning tool, a test cord, an instrument. A later one of the same name replaces it.
/// The ends of a cord are faces: "RC-1/A/cord".
struct KitKept {
    static constexpr std::string_view factKind = "kit_kept", factWords = "kit";
    std::string id;                       ///< as it is called: "pen 1", "RC-1"
    std::string kind;                     ///< one of kitKinds(): "pen", "cord", "meter"
    std::vector<std::string> connectors;  ///< families that it fits; empty: all
    std::string serial;
    std::int64_t calibratedUntil = 0;  ///< seconds since 1970-01-01 UTC; 0: not known, or never needed
    int most = 0;                      ///< strokes or matings that it is good for; 0: not counted
    std::string className;             ///< of a cord: class of its faces
    bool gone = false;                 ///< used up, lost or left at home

    [[nodiscard]] nlohmann::json body() const;
    static KitKept read(FactReading& in);
    [[nodiscard]] std::string sentence(const JobState&) const { return fmt::format("Kit: {} ({}){}", id, kind, gone ? ", gone" : ""); }
    [[nodiscard]] Claim claim() const { return {"kit", id}; }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// Something of the kit was proven: battery charged, port seen clean, cord measured.
struct KitProved {
    static constexpr std::string_view factKind = "kit_proved", factWords = "kit";
    std::string id;
    std::string what;
    bool good = true;

    [[nodiscard]] nlohmann::json body() const { return {{"id", id}, {"what", what}, {"good", good}}; }
    static KitProved read(FactReading& in) { return {in.text("id"), in.text("what"), in.flagOr("good", true)}; }
    [[nodiscard]] std::string sentence(const JobState&) const { return fmt::format("Kit: {}, {}{}", id, good ? "" : "not ", what); }
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

/// The kit was looked through before the round; what was open then, and why it went on all the same.
struct KitChecked {
    static constexpr std::string_view factKind = "kit_checked", factWords = "kit";
    std::vector<std::string> open;
    std::string reason;

    [[nodiscard]] nlohmann::json body() const { return {{"open", open}, {"reason", reason}}; }
    static KitChecked read(FactReading& in) { return {in.texts("open"), in.textOr("reason", "")}; }
    [[nodiscard]] std::string sentence(const JobState& state) const;
    void apply(FactEffects& effects, const EntryHead& entry) const;
};

}  // namespace clendo
