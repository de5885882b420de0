#include "face/size/curve.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <span>

#include "face/median.h"
#include "face/size/line_grid.h"

namespace clendo::face {
namespace {

constexpr std::size_t mostSpots = 1500;  // asked for a direction: more tell no better
constexpr int directions = 360;
constexpr double reachUm = 1.2, reachPixels = 1.5;  // aside, before it is known how wide it is
constexpr double widestUm = 3.5, narrowest = 1.2;   // um and pixels: how far a line may reach aside, and how far it always does
constexpr double most = 2.5;                        // standard deviations aside that hold all of it
constexpr double bendsUm = 10;                      // how long it must be to tell a bend
constexpr int passes = 3;
constexpr double shows = 0.25;                      // of its usual strength: there it goes on
constexpr double mostGapUm = 3, leastFilled = 0.8;  // without, one after another; share of its length where it shows
constexpr std::size_t fewest = 8;                   // spots

/// The axis of the straight strip, `reach` to either side, that holds most.
Curve strongestStrip(const std::vector<Spot>& spots, double reach)
{
    cv::Point2d mean(0, 0);
    for (const auto& s : spots) mean += s.at / double(spots.size());
    double far = 0;
    for (const auto& s : spots) far = std::max(far, cv::norm(s.at - mean));
    const int offset = cvCeil(far) + 1, bins = 2 * offset + 1, half = std::max(1, cvRound(reach));
    const std::size_t step = std::max<std::size_t>(1, spots.size() / mostSpots);
    Curve best;
    double strongest = -1;
    std::vector<double> upTo(static_cast<std::size_t>(bins) + 1);  // strength of all bins before
    for (int k = 0; k < directions; ++k) {
        const double angle = std::numbers::pi * k / directions;
        const cv::Point2d along(std::cos(angle), std::sin(angle));
        std::fill(upTo.begin(), upTo.end(), 0);
        for (std::size_t i = 0; i < spots.size(); i += step)
            upTo[static_cast<std::size_t>(cvRound(along.cross(spots[i].at - mean)) + offset) + 1] += spots[i].strength;
        for (std::size_t b = 1; b < upTo.size(); ++b) upTo[b] += upTo[b - 1];
        for (int b = half; b + half < bins; ++b) {
            const double within = upTo[static_cast<std::size_t>(b + half) + 1] - upTo[static_cast<std::size_t>(b - half)];
            if (within <= strongest) continue;
            strongest = within;
            best.along = along;
            best.middle = mean + double(b - offset) * cv::Point2d(-along.y, along.x);
        }
    }
    return best;
}

/// One step nearer to the arc of what lies within `reach` of the curve; gives how far that spreads aside.
double settle(Curve& c, const std::vector<Spot>& spots, double reach, double longEnough)
{
    std::vector<Spot> near;
    std::copy_if(spots.begin(), spots.end(), std::back_inserter(near), [&](const Spot& s) { return std::abs(c.aside(s.at)) <= reach; });
    double low = 1e9, high = -1e9;
    for (const auto& s : near) {
        low = std::min(low, c.t(s.at));
        high = std::max(high, c.t(s.at));
    }
    const double scale = std::max(1.0, (high - low) / 2);
    cv::Matx33d normal = cv::Matx33d::zeros();
    cv::Vec3d right(0, 0, 0);
    for (const auto& s : near) {
        const double x = c.t(s.at) / scale;
        const cv::Vec3d row(1, x, high - low > longEnough ? x * x : 0);
        normal += s.strength * (row * row.t());
        right += s.strength * c.aside(s.at) * row;
    }
    const cv::Vec3d q = normal.inv(cv::DECOMP_SVD) * right;
    c.arc += cv::Vec3d(q[0], q[1] / scale, q[2] / (scale * scale));
    double squares = 0, all = 0;
    for (const auto& s : near) {
        squares += s.strength * c.aside(s.at) * c.aside(s.at);
        all += s.strength;
    }
    return std::sqrt(squares / std::max(1e-12, all));
}

/// What shows across the curve at each pixel along it, `far` pixels each way from `t`.
std::vector<double> strengthAlong(const Curve& c, const cv::Mat1f& map, int t, int far)
{
    const LineGrid grid(2 * far + 1, cvCeil(c.half()), [&](int n, int i) { return c.place(t + n - far, i); });
    cv::Mat1f sums;
    cv::reduce(grid.read(map), sums, 1, cv::REDUCE_SUM, CV_32F);
    return {sums.begin(), sums.end()};
}

/// Sets where it begins and ends; false where it has gaps, or shows nowhere.
bool follow(Curve& c, const std::vector<Spot>& spots, const cv::Mat1f& map, double ppu)
{
    std::vector<double> at;
    for (const auto& s : spots)
        if (std::abs(c.aside(s.at)) < c.half()) at.push_back(c.t(s.at));
    if (at.size() < fewest) return false;
    const int far = static_cast<int>(std::hypot(map.rows, map.cols)), middle = cvRound(medianOf(std::span(at)));
    const std::vector<double> along = strengthAlong(c, map, middle, far);
    std::vector<double> own;
    for (const double t : at) own.push_back(along[static_cast<std::size_t>(std::clamp(cvRound(t) - middle + far, 0, 2 * far))]);
    const double least = shows * medianOf(std::span(own));
    const int gap = std::max(2, cvRound(mostGapUm * ppu));
    const auto lastOf = [&](int way) {
        int last = far;
        for (int n = far; n >= 0 && n <= 2 * far && std::abs(n - last) <= gap; n += way)
            if (along[static_cast<std::size_t>(n)] > least) last = n;
        return last;
    };
    const int low = lastOf(-1), high = lastOf(1);
    c.low = middle + low - far;
    c.high = middle + high - far;
    const auto shown = std::count_if(along.begin() + low, along.begin() + high + 1, [&](double v) { return v > least; });
    return double(shown) > leastFilled * (high - low + 1);
}

}  // namespace

double Curve::half() const { return std::max(narrowest, most * spread); }

double Curve::aside(cv::Point2d p) const
{
    const double at = t(p);
    return along.cross(p - middle) - arc[0] - arc[1] * at - arc[2] * at * at;
}

cv::Point2d Curve::place(double at, double u) const
{
    return middle + at * along + (u + arc[0] + arc[1] * at + arc[2] * at * at) * cv::Point2d(-along.y, along.x);
}

Curve settled(Curve c, const std::vector<Spot>& spots, double ppu)
{
    for (int pass = 0; pass < passes; ++pass) c.spread = std::min(settle(c, spots, c.half(), bendsUm * ppu), widestUm * ppu / most);
    return c;
}

std::optional<Curve> strongestCurve(const std::vector<Spot>& spots, const cv::Mat1f& map, double ppu)
{
    if (spots.size() < fewest) return std::nullopt;
    const double reach = reachUm * ppu + reachPixels;
    Curve c = strongestStrip(spots, reach);
    c.spread = settle(c, spots, reach, 1e9);  // at first, a strip that lies askew would bend
    c = settled(c, spots, ppu);
    return follow(c, spots, map, ppu) ? std::optional(c) : std::nullopt;
}

}  // namespace clendo::face
