#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "otdr/trace.h"
#include "record/state/job_plan.h"

namespace clendo {

/// What the name of a trace's file says; nothing: it does not say it.
struct NameFields {
    std::optional<std::string> cable, end;
    std::optional<int> fibre, nm;
};

/// Reads a name (without its suffix) by a pattern: {cable}, {fibre}, {nm}, {end} stand for what they say, * for anything, all else for itself, in
/// whatever case. Nothing where it does not fit. Any text is a pattern; one without a field says nothing.
std::optional<NameFields> readName(std::string_view pattern, std::string_view stem);

/// Patterns as files are named by, the most telling first.
const std::vector<std::string>& usualPatterns();
/// The usual pattern by which most of these names say a fibre of the plan; the first one where none does.
std::string patternFor(const std::vector<std::string>& stems, const JobPlan& plan);

/// To which fibre a trace belongs and from which end it was shot, as far as its header and its name tell it.
struct TracePlace {
    std::optional<std::string> link;
    std::optional<Direction> direction;
    std::string doubt;  ///< what is missing, or contradicts itself, in a sentence; empty: nothing
    [[nodiscard]] bool sure() const { return link && direction && doubt.empty(); }
};
TracePlace placeOf(const JobPlan& plan, const otdr::Trace& header, const std::optional<NameFields>& name);

/// From which end a trace was shot: by the places in its header, else by "ab" or "ba" as a word of its file's name; nothing where neither tells it.
std::optional<Direction> shotFrom(const otdr::Trace& trace, const std::string& fileName, const std::string& placeA, const std::string& placeB);

/// The fibre of a trace of a reel of so many: as its header says it, else its name (without its suffix) by the usual patterns, the reel in the place
/// of the cable. Nothing: neither says one that the reel has.
std::optional<int> fibreOnReel(const otdr::Trace& header, std::string_view stem, std::string_view reel, int fibres);

}  // namespace clendo
