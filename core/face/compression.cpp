#include "face/compression.h"

#include <algorithm>
#include <cmath>

namespace clendo::face {
namespace {

constexpr int block = 8;
constexpr int flat = 1;  // grey levels within a block that holds no detail
constexpr double manyFlat = 0.1, leastAsked = 12;
constexpr double lost = 1.0;            // grey levels: patterns of common qualities (60 to 85) reach four to five times this
constexpr double withinTheGlass = 0.9;  // of the radius

}  // namespace

double noiseLostToCompression(const cv::Mat1b& picture, const Circle& cladding)
{
    const double reach = withinTheGlass * cladding.radius;
    const auto firstBlock = [&](double from) { return std::max(0, static_cast<int>(std::ceil(from / block))); };
    int asked = 0, flatOnes = 0;
    for (int by = firstBlock(cladding.y - reach); (by + 1) * block <= std::min(double(picture.rows), cladding.y + reach); ++by)
        for (int bx = firstBlock(cladding.x - reach); (bx + 1) * block <= std::min(double(picture.cols), cladding.x + reach); ++bx) {
            const double dx = (bx + 0.5) * block - cladding.x, dy = (by + 0.5) * block - cladding.y;
            if (std::hypot(dx, dy) > reach - block) continue;
            int low = 255, high = 0;
            for (int y = by * block; y < (by + 1) * block && high - low <= flat; ++y) {
                const auto* row = picture.ptr<std::uint8_t>(y) + bx * block;
                const auto [least, most] = std::minmax_element(row, row + block);
                low = std::min(low, int(*least));
                high = std::max(high, int(*most));
            }
            ++asked;
            flatOnes += high - low <= flat ? 1 : 0;
        }
    return asked >= leastAsked && flatOnes > manyFlat * asked ? lost : 0;
}

}  // namespace clendo::face
