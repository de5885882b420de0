#pragma once
#include <opencv2/core.hpp>
#include <optional>

#include "face/segment/piece.h"
#include "face/size/shape.h"

namespace clendo::face {

/// How far the middle of a long thing leaves an arc, told by where its contrast lies across it: more finely than its outline tells.
struct Winding {
    double off = 0;     ///< um, root of mean squares, freed from what noise makes of it
    double unsure = 0;  ///< um: what noise alone makes of it, one sigma
};

/// Of a thing that shows in a map, bright where `sign` is 1 and dark where it is -1; `origin`: the map's first pixel, in pixels of the picture.
/// Nothing where it is too short, or where its middle does not show for too much of its length. `ppu`: pixels per um.
std::optional<Winding> windingOf(const cv::Mat1f& map, cv::Point2d origin, double sign, const Piece& piece, const Shape& shape, const Course& course,
                                 double ppu);

/// Whether lint may be as wide, as seen, um: of others windsAsLint does not hold.
bool isWideAsLint(double width);
/// What is as wide as lint may be, and winds as no scratch does.
bool windsAsLint(const Winding& winding, double width);

}  // namespace clendo::face
