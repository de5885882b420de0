#pragma once
#include <vector>

#include "face/segment/piece.h"

namespace clendo::face {

/// So many spots at least are taken for what noise left of a film.
inline constexpr std::size_t fewestFilmParts = 3;

/// A broad faint film of which only spots stand out of the noise: what a calmer look at the picture (`calm`: pieces of one sign, found in a map that
/// averages over more) shows as one broad solid thing takes the place of the spots that lie in it. What stands out of the film by far is a thing of
/// its own. `pieces` of index `from` and more are of that sign, the others are left alone.
void joinFilmParts(std::vector<Piece>& pieces, std::size_t from, const std::vector<Piece>& calm, double pixelsPerMicrometre);

}  // namespace clendo::face
