#include "face/ring_cells.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace clendo::face {
namespace {

constexpr double finest = 2.5;             // pixels per um that are enough: of finer pictures every other pixel is asked
constexpr double fourUm = 2, eightUm = 5;  // as far as that, rings have four and eight cells

struct Sum {
    float r = 0, level = 0;
    int pixels = 0;
};
using Ring = std::array<Sum, RingCells::sectors>;

/// Which sixteenth of the circle a direction lies in.
int sixteenth(float dx, float dy)
{
    constexpr float tan22 = 0.41421356F, tan67 = 2.4142136F;
    const float a = std::abs(dx), b = std::abs(dy);
    const int from = b < tan22 * a ? 0 : b < a ? 1 : b < tan67 * a ? 2 : 3;
    const int half = dx >= 0 ? from : 7 - from;
    return dy >= 0 ? half : 15 - half;
}

}  // namespace

RingCells::RingCells(const cv::Mat1f& even, cv::Point2d centre, double ppu)
{
    std::array<Ring, static_cast<std::size_t>(reachUm)> rings{};
    const int reach = static_cast<int>(reachUm * ppu) + 1, stride = std::max(1, static_cast<int>(ppu / finest + 0.5));
    const cv::Rect area = cv::Rect(static_cast<int>(centre.x) - reach, static_cast<int>(centre.y) - reach, 2 * reach + 2, 2 * reach + 2) &
                          cv::Rect(0, 0, even.cols, even.rows);
    const auto umPerPixel = static_cast<float>(1 / ppu);
    for (int y = area.y; y < area.br().y; y += stride) {
        const float* row = even.ptr<float>(y);
        const float dy = (static_cast<float>(y) - static_cast<float>(centre.y)) * umPerPixel;
        for (int x = area.x; x < area.br().x; x += stride) {
            if (row[x] <= 0) continue;
            const float dx = (static_cast<float>(x) - static_cast<float>(centre.x)) * umPerPixel, distance = std::sqrt(dx * dx + dy * dy);
            if (distance >= static_cast<float>(reachUm)) continue;
            const int pooled = distance < static_cast<float>(fourUm) ? 4 : distance < static_cast<float>(eightUm) ? 2 : 1;
            Sum& sum = rings[static_cast<std::size_t>(distance)][static_cast<std::size_t>(sixteenth(dx, dy) / pooled * pooled)];
            sum.r += distance;
            sum.level += row[x];
            ++sum.pixels;
        }
    }
    Eigen::Index n = 0;
    for (const Ring& ring : rings) n += std::count_if(ring.begin(), ring.end(), [](const Sum& s) { return s.pixels > 0; });
    r.resize(n), level.resize(n), weight.resize(n);
    sector.reserve(static_cast<std::size_t>(n));
    Eigen::Index i = 0;
    for (const Ring& ring : rings)
        for (int s = 0; s < sectors; ++s) {
            const Sum& sum = ring[static_cast<std::size_t>(s)];
            if (sum.pixels == 0) continue;
            r[i] = double(sum.r) / sum.pixels;
            level[i] = double(sum.level) / sum.pixels;
            weight[i++] = std::min(mostPixels, double(sum.pixels));
            sector.push_back(s);
        }
}

}  // namespace clendo::face
