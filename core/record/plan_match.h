#pragma once
#include <optional>
#include <string>
#include <vector>

#include "record/state.h"

namespace clendo {

/// One planned element of a link beside what the trace shows there.
struct LineRow {
    std::string name;                     ///< "TH-R2 port 7", "splice manhole 3"
    std::string kind;                     ///< "connection", "splice", "not planned"
    std::optional<Metre> planned, found;  ///< from the front panel at A
    std::optional<Decibel> loss, limit, reflectance;
    std::optional<Decibel> bothWays;  ///< mean, where the fibre was shot from both ends
    [[nodiscard]] bool overLimit() const { return limit && (bothWays ? *bothWays > *limit : loss && *loss > *limit); }
};

/// The link piece by piece: planned connections and splices matched with found events, then what was not planned. `shot` counts from its own end;
/// a shot from B is turned round.
std::vector<LineRow> matchPlan(const JobState& state, const Link& link, const TraceShot& shot);

/// The last shot of the other direction at the same wavelength, or nothing.
const TraceShot* otherWay(const LinkState& state, const TraceShot& shot);

}  // namespace clendo
