#pragma once
#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <utility>

#include "face/find/locate.h"

namespace clendo::face {

inline constexpr int jpegBlock = 8;  ///< px, ITU-T T.81

/// How far the middles of blocks lie from the fibre's, px: from the first to the second.
using Reach = std::pair<double, double>;
/// Of the inner part of the glass.
inline Reach innerGlass(const Circle& cladding) { return {0, 0.9 * cladding.radius - jpegBlock}; }
/// Of the blocks that hold a part of the cladding's edge.
inline Reach onTheRim(const Circle& cladding) { return {cladding.radius - jpegBlock / 2.0, cladding.radius + jpegBlock / 2.0}; }

/// Calls `seen` with each `stride`th block of the picture's own grid (along and down) that lies there.
template <typename Seen>
void forEachJpegBlock(cv::Size picture, const Circle& cladding, Reach reach, int stride, Seen seen)
{
    const double radius = reach.second + jpegBlock;
    const auto first = [](double from) { return std::max(0, static_cast<int>(std::ceil(from / jpegBlock))); };
    const double right = std::min(double(picture.width), cladding.x + radius), below = std::min(double(picture.height), cladding.y + radius);
    for (int by = first(cladding.y - radius); (by + 1) * jpegBlock <= below; by += stride)
        for (int bx = first(cladding.x - radius); (bx + 1) * jpegBlock <= right; bx += stride) {
            const double away = std::hypot((bx + 0.5) * jpegBlock - cladding.x, (by + 0.5) * jpegBlock - cladding.y);
            if (away >= reach.first && away <= reach.second) seen(cv::Rect(bx * jpegBlock, by * jpegBlock, jpegBlock, jpegBlock));
        }
}

}  // namespace clendo::face
