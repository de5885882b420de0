#pragma once
#include <optional>
#include <vector>

#include "otdr/analysis.h"
#include "otdr/signal.h"

namespace clendo::otdr {

/// What a person measures with marks of their own on a trace; places from the front panel.

/// Level at one place less that at another: holds the fibre between, and the noise of single points. IEC 61746-1, IEC 61280-4-2 (two-point method).
/// Nothing where one of them does not stand out of the noise.
std::optional<Decibel> twoPointLoss(const Signal& signal, Metre from, Metre to);

/// The fibre between two places by a least-squares line.
struct FibreLoss {
    Decibel loss;                     ///< of the line between the two places
    DecibelPerKilometre attenuation;  ///< positive where light is lost
    DecibelPerKilometre uncertainty;  ///< one sigma, of the noise and the speckle of this trace
};
/// Nothing where there is too little fibre or light for a line.
std::optional<FibreLoss> leastSquaresLoss(const Signal& signal, Metre from, Metre to);

/// A joint between two pieces of clean fibre, whose lines are drawn on to it (five marks).
struct FiveMarks {
    Metre beforeFrom, beforeTo, at, behindFrom, behindTo;
};
struct JointLoss {
    Decibel loss, uncertainty;  ///< one sigma
};
/// Loss of the joint: the line before it less the line behind it, at its place. IEC 61280-4-2, IEC TR 62316. Nothing where one of them is no line.
std::optional<JointLoss> fiveMarkLoss(const Signal& signal, const FiveMarks& marks);

/// Marks for the joint at a place: as much clean fibre on both sides as there is up to its neighbours, behind the dead zone of what reflects.
/// Nothing where there is too little fibre on a side.
std::optional<FiveMarks> marksFor(const Trace& trace, const std::vector<Event>& events, Metre at);

/// The event that lies nearest to a place, within `reach`; else the place itself.
Metre snapped(const std::vector<Event>& events, Metre at, Metre reach);

}  // namespace clendo::otdr
