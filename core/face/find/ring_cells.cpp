#include "face/find/ring_cells.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace clendo::face {
namespace {

constexpr double finest = 2.5;  // pixels per um that are enough: of finer pictures every other pixel is asked
constexpr int middleUm = 6;     // as far as that, cells are squares of 1 um: a scratch through a small core leaves some of them alone

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

/// Which square micrometre about the middle, of those nearer than `middleUm`.
std::size_t squareOf(float dx, float dy)
{
    return static_cast<std::size_t>(static_cast<int>(dy + middleUm) * 2 * middleUm + static_cast<int>(dx + middleUm));
}

}  // namespace

RingCells::RingCells(const cv::Mat1f& even, cv::Point2d centre, double ppu)
{
    std::array<Ring, static_cast<std::size_t>(reachUm)> rings{};
    std::array<Sum, 4 * middleUm * middleUm> squares{};
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
            Sum& sum = distance < middleUm ? squares[squareOf(dx, dy)]
                                           : rings[static_cast<std::size_t>(static_cast<int>(distance))][static_cast<std::size_t>(sixteenth(dx, dy))];
            sum.r += distance;
            sum.level += row[x];
            ++sum.pixels;
        }
    }
    const auto known = [](const Sum& s) { return s.pixels > 0; };
    Eigen::Index n = std::count_if(squares.begin(), squares.end(), known);
    for (const Ring& ring : rings) n += std::count_if(ring.begin(), ring.end(), known);
    r.resize(n), level.resize(n), weight.resize(n);
    sector.reserve(static_cast<std::size_t>(n));
    const auto take = [&](const Sum& sum, int direction) {
        if (!known(sum)) return;
        const auto i = std::ssize(sector);
        const auto pixels = static_cast<float>(sum.pixels);
        r[i] = sum.r / pixels;
        level[i] = sum.level / pixels;
        weight[i] = std::min(mostPixels, pixels);
        sector.push_back(direction);
    };
    for (const Sum& square : squares) take(square, 0);
    for (const Ring& ring : rings)
        for (int s = 0; s < sectors; ++s) take(ring[static_cast<std::size_t>(s)], s);
}

}  // namespace clendo::face
