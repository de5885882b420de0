#pragma once
#include <vector>

#include "face/segment/piece.h"

namespace clendo::face {

/// A scratch fades at its ends, and what is fainter than half of it is cut off and found apart: it is made a part of the line again. `ppu`: pixels
/// per um.
void joinTips(std::vector<Piece>& pieces, double ppu);

}  // namespace clendo::face
