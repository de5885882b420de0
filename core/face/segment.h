#pragma once
#include <vector>

#include "face/flatten.h"
#include "face/piece.h"

namespace clendo::face {

struct SegmentOptions {
    double pixelsPerMicrometre = 1;
    double blur = 1;  ///< sigma of the picture's blur, px
    Circle cladding;  ///< px; a crescent beside it belongs to the ferrule's hole
};

/// Everything that stands out against noise and doubt. `ferrule` may be empty.
std::vector<Piece> segment(const Flattened& glass, const Flattened& ferrule, const SegmentOptions& options);

}  // namespace clendo::face
