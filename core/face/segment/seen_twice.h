#pragma once
#include <vector>

#include "face/segment/piece.h"

namespace clendo::face {

/// Leaves out what was found twice, as averages over areas and along lines find again what is plain: of two things of one sign whose outlines run
/// together, the fainter. `ppu`: pixels per um.
void leaveOutSeenTwice(std::vector<Piece>& pieces, double ppu);

}  // namespace clendo::face
