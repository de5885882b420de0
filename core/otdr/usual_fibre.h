#pragma once
#include "units/units.h"

namespace clendo::otdr {

/// What installed fibre usually is at a wavelength, as generally known and from no standard: a starting point where a trace does not say it itself,
/// and what stated settings are held against.
struct UsualFibre {
    DecibelPerKilometre attenuation;
    Decibel backscatter;  ///< of a pulse of 1 ns
};
UsualFibre usualFibre(Nanometre wavelength);

}  // namespace clendo::otdr
