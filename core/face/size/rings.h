#pragma once
#include <optional>

#include "face/even/flatten.h"
#include "face/segment/piece.h"

namespace clendo::face {

/// Diameter, pixels of the picture, of a thing that is dark or bright at its rim: a droplet, a chip with a bright bottom. The mean profile across the
/// rim, along all of the outline, tells how wide the rim is seen; by what the blur has widened it the thing is smaller than its outline. Nothing
/// where the middle is like the rim, or noise could have made the difference. `sigma`: of the picture's blur and its pixels;
/// `noise`: noiseOf(glass). For pieces of the glass.
std::optional<double> ringDiameter(const Flattened& glass, const Piece& piece, double sigma, double noise);

}  // namespace clendo::face
