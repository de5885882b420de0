#pragma once
#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>

#include "face/find/locate.h"

namespace clendo::face {

inline constexpr int jpegBlock = 8;  ///< px, ITU-T T.81

/// Calls `seen` with each `stride`th block of the picture's own grid (along and down) that lies in the inner part of the glass.
template <typename Seen>
void forEachJpegBlock(cv::Size picture, const Circle& cladding, int stride, Seen seen)
{
    const double radius = 0.9 * cladding.radius;
    const auto first = [](double from) { return std::max(0, static_cast<int>(std::ceil(from / jpegBlock))); };
    const double right = std::min(double(picture.width), cladding.x + radius), below = std::min(double(picture.height), cladding.y + radius);
    for (int by = first(cladding.y - radius); (by + 1) * jpegBlock <= below; by += stride)
        for (int bx = first(cladding.x - radius); (bx + 1) * jpegBlock <= right; bx += stride)
            if (std::hypot((bx + 0.5) * jpegBlock - cladding.x, (by + 0.5) * jpegBlock - cladding.y) <= radius - jpegBlock)
                seen(cv::Rect(bx * jpegBlock, by * jpegBlock, jpegBlock, jpegBlock));
}

}  // namespace clendo::face
