#include "face/segment/seen_twice.h"

#include <algorithm>
#include <cmath>

namespace clendo::face {
namespace {

constexpr double togetherUm = 0.6, togetherPixels = 1;     // from one outline to the other
constexpr double leastTogether = 0.7;                      // of the smaller one's outline
constexpr double alike = 0.6;                              // radius of the smaller over that of the larger
constexpr double leastShare = 0.33, leastOfDroplet = 0.2;  // of the stronger one's contrast: what is fainter may be a film beneath it
constexpr double mostOver = 1.2, middleOff = 0.15;         // of a droplet's radius
constexpr std::size_t asked = 120;                         // points of an outline

/// The dark of a droplet, found once as its rim and once all over.
bool isSameDroplet(const Piece& rim, const Piece& fainter)
{
    return rim.hollow && fainter.radius < mostOver * rim.radius && cv::norm(rim.centre - fainter.centre) < middleOff * rim.radius;
}

bool runTogether(const Piece& a, const Piece& b, double near)
{
    const Piece &smaller = a.radius < b.radius ? a : b, &larger = a.radius < b.radius ? b : a;
    if (smaller.radius < alike * larger.radius || cv::norm(a.centre - b.centre) > larger.radius - smaller.radius + 2 * near) return false;
    const std::size_t step = std::max<std::size_t>(1, smaller.outline.size() / asked);
    std::size_t all = 0, together = 0;
    for (std::size_t i = 0; i < smaller.outline.size(); i += step) {
        ++all;
        together +=
            std::any_of(larger.outline.begin(), larger.outline.end(), [&](const cv::Point2f& p) { return cv::norm(p - smaller.outline[i]) < near; })
                ? 1
                : 0;
    }
    return double(together) >= leastTogether * double(all);
}

}  // namespace

void leaveOutSeenTwice(std::vector<Piece>& pieces, double ppu)
{
    const double near = togetherUm * ppu + togetherPixels;
    for (std::size_t i = 0; i < pieces.size(); ++i)
        for (std::size_t k = i + 1; k < pieces.size();) {
            Piece &a = pieces[i], &b = pieces[k];
            if (std::abs(b.contrast) > std::abs(a.contrast)) std::swap(a, b);
            const double share = b.contrast / a.contrast;
            const bool same =
                a.region == b.region && ((share > leastOfDroplet && isSameDroplet(a, b)) || (share > leastShare && runTogether(a, b, near)));
            if (!same) {
                ++k;
                continue;
            }
            a.atRim = a.atRim || b.atRim;
            pieces.erase(pieces.begin() + static_cast<std::ptrdiff_t>(k));
        }
}

}  // namespace clendo::face
