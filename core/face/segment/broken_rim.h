#pragma once
#include <vector>

#include "face/even/flatten.h"
#include "face/segment/piece.h"

namespace clendo::face {

/// Joins the pieces into which noise breaks the rim of a droplet: of one sign, close together, along one circle, where the picture shows that the rim
/// goes on all round. `glass`: where they were found; `ppu`: pixels per um.
void joinBrokenRims(std::vector<Piece>& pieces, const Flattened& glass, double ppu);

}  // namespace clendo::face
