#pragma once
#include <vector>

#include "face/segment/piece.h"
#include "face/segment/segment.h"

namespace clendo::face {

/// How lint that lies across the rim of the glass goes on, on a ferrule whose grain hides all but lines: what stands out of it where grain is
/// averaged along lines and begins beside one of `bent`, things in the glass that reach the rim and are not straight.
std::vector<Piece> lintBeyond(const std::vector<Piece>& bent, const Flattened& ferrule, const SegmentOptions& options);

}  // namespace clendo::face
