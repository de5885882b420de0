#pragma once
#include "face/segment/piece.h"

namespace clendo::face {

/// Joins the two flanks of a wide groove, one dark and one bright in light from the side: lines of opposite sign side by side that begin and end
/// together, as two scratches of their own hardly do. The groove is as wide as both and what lies between them. `ppu`: pixels per um.
void joinFlanks(std::vector<Piece>& pieces, double ppu);

}  // namespace clendo::face
