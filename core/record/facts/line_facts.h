#pragma once
#include "record/facts/fact_reading.h"

namespace clendo {

class FactEffects;
struct EntryHead;
struct JobState;

/// What was said on the lines of the instruments, kept as evidence.
struct LineLogKept {
    static constexpr std::string_view factKind = "line_log", factWords = "instrument line";
    std::string log;  ///< SHA-256 of the text, which is evidence

    [[nodiscard]] nlohmann::json body() const { return {{"log", log}}; }
    static LineLogKept read(FactReading& in) { return {in.text("log")}; }
    [[nodiscard]] std::string sentence(const JobState&) const { return "Kept what was said on the lines of the instruments"; }
    [[nodiscard]] std::string evidence() const { return log; }
    void apply(FactEffects&, const EntryHead&) const {}
};

}  // namespace clendo
