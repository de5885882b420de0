#pragma once
#include "face/piece.h"

namespace clendo::face {

/// A straight stroke: scratches are straight, lint and cracks are not.
struct Straight {
    cv::Point2f middle, along;        ///< `along` of length 1
    double length = 0, width = 0;     ///< pixels; width at half contrast
    std::vector<cv::Point2f> points;  ///< of the outline that lie on it
};

/// Takes a thin piece apart into straight strokes that cross: two scratches that meet look like one bent thing. Gives the piece itself where it is
/// not made of straight strokes, or of one only. `ppu`: pixels per um.
std::vector<Piece> splitStrokes(Piece piece, double ppu);

/// Joins strokes that lie in one line: a faint scratch is seen in pieces.
void joinInLine(std::vector<Piece>& pieces, double ppu);

}  // namespace clendo::face
