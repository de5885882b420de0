#include "face/noise/lone_pixels.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace clendo::face {
namespace {

constexpr float standsOut = 20;      // grey
constexpr float mostSpread = 0.15F;  // of it in a neighbour: even a sharp picture spreads more (a Gaussian of half a pixel: 0.16 and more)

}  // namespace

int mendLonePixels(cv::Mat1f& grey)
{
    int mended = 0;
    for (int y = 1; y + 1 < grey.rows; ++y) {
        float* row = grey.ptr<float>(y);
        const float *above = grey.ptr<float>(y - 1), *below = grey.ptr<float>(y + 1);
        for (int x = 1; x + 1 < grey.cols; ++x) {
            const float left = row[x] - row[x - 1], right = row[x] - row[x + 1];
            if (std::min(std::abs(left), std::abs(right)) < standsOut || left * right < 0) continue;
            std::array<float, 8> near{above[x - 1], above[x], above[x + 1], row[x - 1], row[x + 1], below[x - 1], below[x], below[x + 1]};
            std::nth_element(near.begin(), near.begin() + 4, near.end());
            const float surroundings = near[4], step = row[x] - surroundings;
            const bool alone =
                std::all_of(near.begin(), near.end(), [&](float g) { return std::abs(g - surroundings) < mostSpread * std::abs(step); });
            if (!alone || std::abs(step) < standsOut) continue;
            row[x] = surroundings;
            ++mended;
        }
    }
    return mended;
}

}  // namespace clendo::face
