#pragma once
#include <functional>
#include <vector>

#include "face/even/flatten.h"
#include "face/segment/piece.h"

namespace clendo::face {

struct SegmentOptions {
    double pixelsPerMicrometre = 1;
    double blur = 1;           ///< sigma of the picture's blur, px
    double unjudged = 0;       ///< px between the glass and the ferrule that neither tells anything of
    Circle cladding;           ///< px; a crescent beside it belongs to the ferrule's hole
    bool judgeFerrule = true;  ///< otherwise only the glass is, and the ferrule tells how what reaches its edge goes on
};

/// Everything that stands out against noise and doubt. `ferrule` is asked only where it is needed, and may give an empty one.
std::vector<Piece> segment(const Flattened& glass, const std::function<Flattened()>& ferrule, const SegmentOptions& options);

}  // namespace clendo::face
