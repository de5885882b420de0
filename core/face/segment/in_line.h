#pragma once
#include <vector>

#include "face/even/flatten.h"
#include "face/segment/piece.h"

namespace clendo::face {

/// Joins strokes that lie in one line: a faint scratch is seen in pieces. Farther apart than a gap in a line is they are one where the picture shows
/// that it goes on between them. `glass`, `ferrule`: where those of each were found; without it nothing shows. `ppu`: pixels per um.
void joinInLine(std::vector<Piece>& pieces, double ppu, const Flattened* glass = nullptr, const Flattened* ferrule = nullptr);

}  // namespace clendo::face
