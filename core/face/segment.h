#pragma once
#include <opencv2/core.hpp>
#include <vector>

#include "face/flatten.h"

namespace clendo::face {

/// One thing apart from its surroundings, before it is measured.
struct Piece {
    std::vector<cv::Point2f> outline;  ///< points of its area at half contrast, quarter pixels, in the flattened maps
    double area = 0;                   ///< pixels²
    double contrast = 0;               ///< strongest, signed
    std::uint8_t region = 1;
    bool atRim = false;   ///< it reaches the border of the judged glass
    bool hollow = false;  ///< an outline with a middle like its surroundings
};

struct SegmentOptions {
    double pixelsPerMicrometre = 1;
    double blur = 1;  ///< sigma of the picture's blur, px
};

/// Everything that stands out against noise and doubt. Dark and light pieces that make up one thing are joined.
std::vector<Piece> segment(const Flattened& flattened, const SegmentOptions& options);

}  // namespace clendo::face
