#pragma once
#include <optional>

#include "units/units.h"

namespace clendo::otdr {

/// What installed fibre usually is at a wavelength, as generally known and from no standard: a starting point where a trace does not say it itself,
/// and what stated settings are held against.
struct UsualFibre {
    DecibelPerKilometre attenuation;
    Decibel backscatter;  ///< of a pulse of 1 ns
};
UsualFibre usualFibre(Nanometre wavelength);

/// What fibre loses tells its kind where the kinds do not overlap; stress and bends only add. As generally known.
enum class FibreKind { SingleMode, Multimode };
/// Nothing where both would be possible, or neither is likely.
std::optional<FibreKind> fibreLike(Nanometre wavelength, DecibelPerKilometre attenuation);

}  // namespace clendo::otdr
