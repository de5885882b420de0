#pragma once

namespace clendo::face {

/// By which things are told from noise, in more than one way of looking for them.
inline constexpr double leastOnFerrule = 0.10;          ///< contrast from which a thing on the ferrule is looked at
inline constexpr double calmUm = 0.9, leastCalm = 0.6;  ///< sigma of the map in which it is found, no less than that many pixels
inline constexpr double strokeUm = 9;                   ///< over which faint lines are averaged
inline constexpr double strokeFactor = 6;               ///< spreads above what such averages are of noise

}  // namespace clendo::face
