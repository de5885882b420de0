#pragma once
#include "face/even/flatten.h"
#include "face/segment/piece.h"

namespace clendo::face {

/// A map in which lines are followed. Lengths in pixels.
struct LineSearch {
    const cv::Mat1f& map;  ///< contrast, smoothed a little
    const Flattened& glass;
    double sign = -1;      ///< of what is followed
    double noise = 0;      ///< standard deviation of the map
    double smoothing = 0;  ///< sigma by which it was smoothed
    double pixelsPerMicrometre = 1;
    double least = 0;  ///< contrast that a line must have
};

/// Scratches in noise fall into pieces. Each of the `hints` (what stands out where noise is averaged along lines) that is straight is followed both
/// ways, averaging along it, and measured across; where that gives a long line, it takes the place of its fragments among the pieces.
void followLines(const std::vector<Piece>& hints, const LineSearch& search, std::vector<Piece>& pieces);

}  // namespace clendo::face
