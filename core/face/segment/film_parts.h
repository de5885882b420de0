#pragma once
#include <vector>

#include "face/segment/piece.h"

namespace clendo::face {

/// A broad faint film of which noise left but spots standing out: what a calmer look at the picture (`calm`: pieces of one sign, found in a map that is
/// averaged over more) shows as one broad solid thing takes the place of the spots of `pieces` that lie in it, from index `from` on. What stands
/// out of the film by far is a thing of its own.
void joinFilmParts(std::vector<Piece>& pieces, std::size_t from, const std::vector<Piece>& calm, double pixelsPerMicrometre);

}  // namespace clendo::face
