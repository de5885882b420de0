#pragma once
#include <optional>

#include "face/even/flatten.h"
#include "face/segment/piece.h"
#include "face/size/shape.h"

namespace clendo::face {

/// How far the middle of a long thing leaves an arc, told by where its contrast lies across it: more finely than its outline tells.
struct Winding {
    double off = 0;     ///< um, root of mean squares, freed from what noise makes of it
    double unsure = 0;  ///< um: what noise alone makes of it, one sigma
};

/// Of a thing in the glass. Nothing where it is too short, or where its middle does not show for too much of its length. `ppu`: pixels per um.
std::optional<Winding> windingOf(const Flattened& glass, const Piece& piece, const Shape& shape, const Course& course, double ppu);

/// What is as wide as lint may be, and winds as no scratch does. `width`: as seen, um.
bool windsAsLint(const Winding& winding, double width);

}  // namespace clendo::face
