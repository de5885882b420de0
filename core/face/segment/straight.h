#pragma once
#include <vector>

#include "face/segment/piece.h"

namespace clendo::face {

/// Takes a thin piece apart into straight strokes that cross: two scratches that meet look like one bent thing. Gives the piece itself where it is
/// not made of straight strokes, or of one only. `ppu`: pixels per um.
std::vector<Piece> splitStrokes(Piece piece, double ppu);

}  // namespace clendo::face
