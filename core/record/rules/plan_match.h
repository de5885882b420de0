#pragma once
#include <optional>
#include <string>
#include <vector>

#include "otdr/two_wavelengths.h"
#include "record/state/state.h"

namespace clendo {

/// One planned element of a link beside what the trace shows there.
struct LineRow {
    std::string name;                     ///< "TH-R2 port 7", "splice manhole 3"
    std::string kind;                     ///< "connection", "splice", "not planned"
    std::optional<Metre> planned, found;  ///< from the link's port at A, where one would dig: the launch cord is not in it
    std::optional<Metre> shifted;  ///< found so much further from A than by the plan, the whole plan stretched as it fits; only where that is clear
    std::string where{};           ///< of what is not planned: "38 m from splice manhole 3 towards Breakwater Hut"
    std::optional<Decibel> loss, limit, reflectance;
    std::optional<Decibel> reflectanceLimit{};  ///< of a connection, at most
    std::optional<Connection> connection{};     ///< of a planned connection: which
    std::optional<Decibel> bothWays;            ///< mean, where the fibre was shot from both ends
    std::optional<std::string> notMeasurable;   ///< why its loss cannot be measured in this shot: no cord before or behind it
    [[nodiscard]] bool reflectsTooMuch() const { return reflectance && reflectanceLimit && *reflectance > *reflectanceLimit; }
    [[nodiscard]] bool overLimit() const { return limit && (bothWays ? *bothWays > *limit : loss && *loss > *limit); }
};

/// The link piece by piece: planned connections and splices matched with found events, then what was not planned. `shot` counts from its own end;
/// a shot from B is turned round.
std::vector<LineRow> matchPlan(const JobState& state, const Link& link, const TraceShot& shot);

/// A place on a shot, from its front panel, as metres from the link's port at A: by the connectors that were found at the ends of the cords, else by
/// the lengths that were stated of these. Nothing for a shot from B that does not show the end.
std::optional<Metre> fromA(const TraceShot& shot, Metre onTrace);

constexpr Nanometre sameWavelength{15};  ///< shots closer than this are of one wavelength: sources are within 30 nm, files round

/// The last shot of a direction at a wavelength that shows the link; where none does, the last one; null: there is none.
const Filed<TraceShot>* latestShot(const LinkState& state, Direction direction, Nanometre wavelength);

/// What a joint loses at another wavelength, where otherWavelengths() has a shot of it: bend or splice. `from`: place from the port at A.
std::optional<otdr::TwoWavelengths> atOtherWavelength(const LinkState& state, const TraceShot& shot, Metre from);

/// Shots in the same direction at other wavelengths that show the line as it was then: where the fibre was shot before with the same settings, those
/// that lie nearer in time to this shot than to that one.
std::vector<const TraceShot*> otherWavelengths(const LinkState& state, const TraceShot& shot);

/// The last shot of the other direction at the same wavelength, or nothing: also nothing where it is from before the fibre was shot anew.
const TraceShot* otherWay(const LinkState& state, const TraceShot& shot);

/// The first shot from the same end at the same wavelength that shows the link: what later ones are held against; null: this is the first.
const Filed<TraceShot>* firstShot(const LinkState& state, const TraceShot& shot);

}  // namespace clendo
