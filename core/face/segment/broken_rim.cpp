#include "face/segment/broken_rim.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <numbers>
#include <optional>

#include "face/find/circle_fit.h"
#include "face/noise/map_noise.h"
#include "face/size/line_grid.h"

namespace clendo::face {
namespace {

constexpr double nearUm = 6, alike = 0.4;            // between pieces of one rim; of the plainer one's contrast
constexpr double smallestUm = 4, largestUm = 24;     // diameter of a rim that breaks: a smaller one has no middle, a larger one is followed
constexpr double widestRim = 0.5;                    // of the circle's radius: wider ones are things beside each other
constexpr double offUm = 0.5;                        // from the circle, beside half of the rim's width
constexpr std::size_t mostPieces = 6;                // of one rim: with more of them close together, anything lies on some circle
constexpr int sectors = 12, mostGaps = 1;            // of the circle; in so many of them nothing need show
constexpr double showsAll = 5, leastBetween = 0.35;  // sigmas, of all sectors without a piece; of the weakest piece's contrast
constexpr double rimUm = 0.5, awayUm = 1.5;          // half of the rim that is looked at; how far beside it
constexpr double leastMiddle = 0.5;                  // of the rim's contrast that its middle does without: else it is no rim

/// Whether it may be a part of a rim that broke.
bool mayBePart(const Piece& p, double ppu) { return p.region == Region::Glass && !p.hollow && 2 * p.radius < largestUm * ppu; }

/// Contrast along a circle, a value for each sector: that on it, less what lies beside it on both sides; nothing where it leaves the glass.
struct Rim {
    std::array<double, sectors> shows{};
    int pixels = 0;     ///< of each sector, on the circle
    double middle = 0;  ///< mean within it
};
std::optional<Rim> rimOf(const Flattened& glass, const Circle& circle, double ppu)
{
    constexpr int stepsOfSector = 8, steps = sectors * stepsOfSector;
    const int half = cvCeil((rimUm + awayUm) * ppu) + 1, near = std::max(1, cvRound(rimUm * ppu));
    if (circle.radius < half) return std::nullopt;
    const cv::Point2d middle = cv::Point2d(circle.x, circle.y) - glass.origin;
    const LineGrid grid(steps, half, [&](int n, int i) {
        const double a = 2 * std::numbers::pi * n / steps, r = circle.radius + i;
        return middle + cv::Point2d(r * std::cos(a), r * std::sin(a));
    });
    for (int n = 0; n < steps; ++n) {
        const cv::Point at(cvRound(grid.x(n, 2 * half)), cvRound(grid.y(n, 2 * half)));
        if (at.x < 0 || at.y < 0 || at.x >= glass.judged.cols || at.y >= glass.judged.rows || !glass.judged(at)) return std::nullopt;
    }
    const cv::Mat1f seen = grid.read(glass.contrast);
    Rim rim;
    const auto meanOf = [&](int sector, int from, int to) {
        return cv::mean(seen(cv::Range(sector * stepsOfSector, (sector + 1) * stepsOfSector), cv::Range(from + half, to + half + 1)))[0];
    };
    for (int s = 0; s < sectors; ++s) {
        const double beside = (meanOf(s, -half, -near - 1) + meanOf(s, near + 1, half)) / 2;
        rim.shows[static_cast<std::size_t>(s)] = meanOf(s, -near, near) - beside;
        rim.middle += meanOf(s, -half, -near - 1) / sectors;
    }
    rim.pixels = std::max(1, cvFloor(2 * std::numbers::pi * circle.radius / sectors * (2 * near + 1)));
    return rim;
}

/// Whether the picture shows one rim where these pieces lie.
bool isOneRim(const std::vector<Piece>& pieces, const std::vector<std::size_t>& group, const Flattened& glass, double ppu)
{
    std::vector<cv::Point2f> points;
    double area = 0, weakest = 1e9, sign = 1;
    for (const std::size_t i : group) {
        points.insert(points.end(), pieces[i].outline.begin(), pieces[i].outline.end());
        area += pieces[i].area;
        weakest = std::min(weakest, std::abs(pieces[i].contrast));
        sign = pieces[i].contrast < 0 ? -1 : 1;
    }
    const auto circle = circleThrough(points);
    if (!circle || 2 * circle->radius < smallestUm * ppu || 2 * circle->radius > largestUm * ppu) return false;
    const double width = area / std::max(1.0, double(points.size()) / 8);  // a point each quarter pixel, on both sides of the rim
    if (width > widestRim * circle->radius || offCircle(points, *circle) > offUm * ppu + width / 2) return false;
    const auto rim = rimOf(glass, *circle, ppu);
    if (!rim || sign * rim->middle > leastMiddle * weakest) return false;
    std::array<bool, sectors> taken{};
    for (const auto& p : points) {
        const double a = std::atan2(double(p.y) - circle->y, double(p.x) - circle->x) / (2 * std::numbers::pi);
        taken[static_cast<std::size_t>(std::floor((a < 0 ? a + 1 : a) * sectors)) % sectors] = true;
    }
    double between = 0;
    int free = 0, gaps = 0;
    for (std::size_t s = 0; s < sectors; ++s) {
        const double shows = sign * rim->shows[s];
        gaps += shows < leastBetween / 2 * weakest;
        if (taken[s]) continue;
        between += shows;
        ++free;
    }
    if (gaps > mostGaps || free == 0) return gaps <= mostGaps;
    between /= free;
    return between > leastBetween * weakest && between > showsAll * noiseOf(glass) / std::sqrt(double(free * rim->pixels));
}

/// Pieces that hang together, each near another of about its contrast.
class Groups {
public:
    Groups(const std::vector<Piece>& pieces, double ppu) : pieces_(pieces), crowded_(pieces.size(), 0), ppu_(ppu) {}

    /// All that hang together with this one, it first; none where there are too many: those are not looked at again, as a broken picture has
    /// thousands.
    std::vector<std::size_t> of(std::size_t first)
    {
        std::vector<std::size_t> group{first};
        for (std::size_t at = 0; at < group.size(); ++at)
            for (std::size_t k = 0; k < pieces_.size(); ++k) {
                if (std::find(group.begin(), group.end(), k) != group.end() || !near(pieces_[group[at]], pieces_[k])) continue;
                group.push_back(k);
                if (group.size() <= mostPieces && !crowded_[k]) continue;
                for (const std::size_t i : group) crowded_[i] = 1;
                return {};
            }
        return group;
    }
    void taken(std::size_t i) { crowded_.erase(crowded_.begin() + static_cast<std::ptrdiff_t>(i)); }

private:
    [[nodiscard]] bool near(const Piece& a, const Piece& b) const
    {
        const auto [weak, strong] = std::minmax({std::abs(a.contrast), std::abs(b.contrast)});
        if (a.contrast * b.contrast < 0 || weak < alike * strong || !mayBePart(b, ppu_)) return false;
        return gapBetween(a, b, nearUm * ppu_) < nearUm * ppu_;
    }

    const std::vector<Piece>& pieces_;
    std::vector<char> crowded_;
    double ppu_;
};

}  // namespace

void joinBrokenRims(std::vector<Piece>& pieces, const Flattened& glass, double ppu)
{
    Groups groups(pieces, ppu);
    for (std::size_t first = 0; first < pieces.size(); ++first) {
        if (!mayBePart(pieces[first], ppu)) continue;
        std::vector<std::size_t> group = groups.of(first);
        if (group.size() < 2 || !isOneRim(pieces, group, glass, ppu)) continue;
        std::sort(group.begin() + 1, group.end(), std::greater<>());
        pieces[first].hollow = true;
        pieces[first].stroke = false;
        for (auto k = group.begin() + 1; k != group.end(); ++k) pieces[first].add(pieces[*k]);
        for (auto k = group.begin() + 1; k != group.end(); ++k) {
            pieces.erase(pieces.begin() + static_cast<std::ptrdiff_t>(*k));
            groups.taken(*k);
        }
    }
}

}  // namespace clendo::face
