#pragma once
#include <optional>

#include "face/even/flatten.h"
#include "face/segment/piece.h"

namespace clendo::face {

/// Diameter, pixels of the picture, of a small droplet: round and dark or bright at its rim alone, which the blur has filled so far that its outline
/// is that of a disc. Where the mean around it falls to half its rim's contrast it ends. Nothing where its middle is like its rim, or noise could
/// have made the difference. `sigma`: of the picture's blur and its pixels. For pieces of the glass.
std::optional<double> ringDiameter(const Flattened& glass, const Piece& piece, double sigma);

}  // namespace clendo::face
