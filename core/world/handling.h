#pragma once
#include <cstdint>

#include "units/units.h"

namespace clendo::world {

/// How a microscope is held and set while one frame is taken.
struct Handling {
    Micrometre defocus;         ///< distance from the sharp plane, either sign
    Micrometre shakeX, shakeY;  ///< by which the hand has moved the face
    double light = 1;           ///< 1 is well lit, 0 is off
    std::uint32_t seed = 1;     ///< of the frame's noise
};

}  // namespace clendo::world
