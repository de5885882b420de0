#include "face/noise/lost_noise.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "face/noise/jpeg_blocks.h"

namespace clendo::face {
namespace {

constexpr int flat = 1;  // grey levels within a block that holds no detail
constexpr double manyFlat = 0.1;
constexpr int leastAsked = 12;          // blocks
constexpr double byJpeg = 1.0;          // grey levels: patterns of common qualities (60 to 85) reach four to five times this
constexpr double byStep = 0.35;         // of a step between grey levels: its rounding is 0.29, and never quite even
constexpr double leastStep = 1.8;       // grey levels
constexpr double differing = 0.5;       // of the pixels
constexpr int widestStep = 24;          // grey levels: beyond it, another one is another thing
constexpr double withinTheGlass = 0.9;  // of the radius

/// Blocks of the picture's own grid that lie in the glass: all, and those that hold no detail.
struct Blocks {
    int asked = 0, flat = 0;
};

Blocks blocksIn(const cv::Mat1b& picture, const Circle& cladding)
{
    Blocks out;
    forEachJpegBlock(picture.size(), cladding, innerGlass(cladding), 1, [&](const cv::Rect& block) {
        int low = 255, high = 0;
        for (int y = block.y; y < block.br().y && high - low <= flat; ++y) {
            const auto* row = picture.ptr<std::uint8_t>(y) + block.x;
            const auto [least, most] = std::minmax_element(row, row + block.width);
            low = std::min(low, int(*least));
            high = std::max(high, int(*most));
        }
        ++out.asked;
        out.flat += high - low <= flat ? 1 : 0;
    });
    return out;
}

/// The square within the glass.
cv::Rect innerSquare(const cv::Mat1b& picture, const Circle& glass)
{
    const int side = static_cast<int>(glass.radius / std::sqrt(2.0));
    return cv::Rect(static_cast<int>(glass.x) - side, static_cast<int>(glass.y) - side, 2 * side, 2 * side) &
           cv::Rect(0, 0, picture.cols, picture.rows);
}

/// Whether noise carries most pixels to another level than their neighbours: it shows then, and averages see between the levels.
bool noiseShows(const cv::Mat1b& picture, cv::Rect inner)
{
    int asked = 0, differ = 0;
    for (int y = inner.y; y < inner.br().y; y += 2) {
        const auto* row = picture.ptr<std::uint8_t>(y);
        for (int x = inner.x; x + 1 < inner.br().x; x += 2) {
            ++asked;
            differ += row[x] != row[x + 1] ? 1 : 0;
        }
    }
    return differ > differing * asked;
}

/// Grey levels from one that occurs to the next, on average over the middle of those in the square.
double stepBetweenLevels(const cv::Mat1b& picture, cv::Rect inner)
{
    std::array<int, 256> count{};
    for (int y = inner.y; y < inner.br().y; ++y)
        for (const auto *p = picture.ptr<std::uint8_t>(y) + inner.x, *end = p + inner.width; p < end; ++p) ++count[*p];
    const auto level = [&](double share) {
        double left = share * inner.area();
        int at = 0;
        while (at < 255 && (left -= count[static_cast<std::size_t>(at)]) > 0) ++at;
        return at;
    };
    const int low = level(0.05), high = level(0.95);
    const auto used = std::count_if(count.begin() + low, count.begin() + high + 1, [](int n) { return n > 0; });
    if (used >= 2) return double(high - low) / double(used - 1);
    // nearly all of it is of one level: the nearest other one, which the softened rims of whatever lies there would have next to it
    for (int step = 1; step <= widestStep; ++step)
        if (used == 1 && ((low >= step && count[static_cast<std::size_t>(low - step)] > 0) ||
                          (low + step < 256 && count[static_cast<std::size_t>(low + step)] > 0)))
            return step;
    return 1;
}

}  // namespace

double lostNoise(const cv::Mat1b& picture, const Circle& cladding)
{
    const Circle glass{cladding.x, cladding.y, withinTheGlass * cladding.radius, 1};
    const cv::Rect inner = innerSquare(picture, glass);
    const Blocks blocks = blocksIn(picture, cladding);
    const double jpeg = blocks.asked >= leastAsked && blocks.flat > manyFlat * blocks.asked ? byJpeg : 0, step = stepBetweenLevels(picture, inner);
    return std::max(jpeg, step >= leastStep && !noiseShows(picture, inner) ? byStep * step : 0);
}

}  // namespace clendo::face
