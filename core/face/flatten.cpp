#include "face/flatten.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "face/core_kind.h"
#include "face/radial_profile.h"

namespace clendo::face {
namespace {

constexpr int terms = 6;  // 1, x, y, x², xy, y²
using Surface = Eigen::Matrix<double, terms, 1>;

Surface basis(double x, double y)
{
    Surface b;
    b << 1, x, y, x * x, x * y, y * y;
    return b;
}

/// Smooth light over a region: a quadratic surface by weighted least squares (Tukey), coordinates in units of `unit`.
/// Only pixels for which `take(radius)` holds are asked, and not more than some thousands of them.
template <class Take>
Surface fitLight(const cv::Mat1f& grey, cv::Point2d centre, double unit, Take take)
{
    struct Sample {
        Surface b;
        double value;
    };
    std::vector<Sample> samples;
    const int stride = std::max(1, static_cast<int>(std::sqrt(double(grey.total()) / 20000)));
    for (int y = 0; y < grey.rows; y += stride)
        for (int x = 0; x < grey.cols; x += stride) {
            const double dx = x - centre.x, dy = y - centre.y;
            if (take(std::hypot(dx, dy))) samples.push_back({basis(dx / unit, dy / unit), double(grey(y, x))});
        }
    Surface p = Surface::Zero();
    if (samples.size() < 60) return p;
    std::vector<double> values;
    values.reserve(samples.size());
    for (const auto& s : samples) values.push_back(s.value);
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2), values.end());
    p[0] = values[values.size() / 2];
    double width = 0.3 * p[0] + 4;
    for (int pass = 0; pass < 7; ++pass) {
        Eigen::Matrix<double, terms, terms> m = Eigen::Matrix<double, terms, terms>::Identity() * 1e-6;
        Surface v = Surface::Zero();
        std::vector<double> misses;
        for (const auto& s : samples) {
            const double miss = s.value - s.b.dot(p), u = miss / width;
            misses.push_back(std::abs(miss));
            if (std::abs(u) >= 1) continue;
            const double weight = (1 - u * u) * (1 - u * u);
            m.noalias() += weight * s.b * s.b.transpose();
            v += weight * s.value * s.b;
        }
        p = m.ldlt().solve(v);
        const auto middle = misses.begin() + static_cast<std::ptrdiff_t>(misses.size() / 2);
        std::nth_element(misses.begin(), middle, misses.end());
        width = std::clamp(6 * *middle, 2.0, width);
    }
    return p;
}

/// Divides a region by its light and by its mean radial profile about `core` (near the middle) and `centre` (farther out).
class RegionFlattener {
public:
    RegionFlattener(const cv::Mat1f& grey, cv::Point2d centre, double ppu) : grey_(grey), centre_(centre), ppu_(ppu) {}

    void glass(Flattened& out, double outer)
    {
        const Surface light = fitLight(grey_, centre_, outer, [&](double r) { return r > 34 * ppu_ && r < outer - ppu_; });
        cv::Mat1f even = divideBy(light, 0, outer);
        RadialProfile profile(even, {0, outer, centre_, {0, 0}, 0});
        const CoreEstimate core = estimateCore(profile, ppu_);
        out.core = core.kind;
        out.coreStrength = core.strength;
        const double coreRadius = core.radius * ppu_;
        cv::Point2d shift(0, 0);
        for (int pass = 0; pass < 3 && core.kind; ++pass) {
            profile = RadialProfile(even, {0, outer, centre_, shift, 1.3 * coreRadius});
            shift += profile.eccentricity(even, std::max(0.0, coreRadius - 4 * ppu_), coreRadius + 4 * ppu_, 1.5 * ppu_);
        }
        profile = RadialProfile(even, {0, outer, centre_, shift, core.kind ? 1.3 * coreRadius : 0});
        finish(out, even, profile, 1, outer);
    }

    void ferrule(Flattened& out, double inner, double outer)
    {
        const Surface light = fitLight(grey_, centre_, outer, [&](double r) { return r > inner + 6 * ppu_ && r < outer; });
        if (light[0] < 1) return;
        const cv::Mat1f even = divideBy(light, inner, outer);
        finish(out, even, RadialProfile(even, {inner, outer, centre_, {0, 0}, 0}), 2, outer);
    }

private:
    cv::Mat1f divideBy(const Surface& light, double inner, double outer) const
    {
        cv::Mat1f even(grey_.size(), 0.0F);
        for (int y = 0; y < grey_.rows; ++y)
            for (int x = 0; x < grey_.cols; ++x) {
                const double dx = x - centre_.x, dy = y - centre_.y, r = std::hypot(dx, dy);
                if (r < inner || r >= outer) continue;
                const double expected = basis(dx / outer, dy / outer).dot(light);
                even(y, x) = static_cast<float>(grey_(y, x) / std::max(1.0, expected));
            }
        return even;
    }

    void finish(Flattened& out, const cv::Mat1f& even, const RadialProfile& profile, std::uint8_t region, double outer) const
    {
        const double edgeDoubt = 0.22 * ppu_;  // how far the background's own edges may be misplaced, in pixels
        for (int y = 0; y < even.rows; ++y)
            for (int x = 0; x < even.cols; ++x) {
                if (even(y, x) <= 0 || std::hypot(x - centre_.x, y - centre_.y) >= outer) continue;
                const auto [level, slope] = profile.at(x, y);
                if (level <= 0.02) continue;
                out.contrast(y, x) = static_cast<float>(double(even(y, x)) / level - 1);
                out.doubt(y, x) = static_cast<float>(edgeDoubt * std::abs(slope) / level);
                out.region(y, x) = region;
            }
    }

    const cv::Mat1f& grey_;
    cv::Point2d centre_;
    double ppu_;
};

}  // namespace

Flattened flatten(const cv::Mat1b& picture, const CladdingEdge& edge, double ppu, bool judgeFerrule)
{
    Flattened out;
    const double reach = judgeFerrule ? 2.05 * edge.circle.radius : edge.circle.radius + 2;
    const cv::Rect wanted(static_cast<int>(edge.circle.x - reach), static_cast<int>(edge.circle.y - reach), static_cast<int>(2 * reach) + 2,
                          static_cast<int>(2 * reach) + 2);
    out.crop = wanted & cv::Rect(0, 0, picture.cols, picture.rows);
    cv::Mat1f grey;
    picture(out.crop).convertTo(grey, CV_32F);
    out.contrast = cv::Mat1f(grey.size(), 0.0F);
    out.doubt = cv::Mat1f(grey.size(), 0.0F);
    out.region = cv::Mat1b(grey.size(), std::uint8_t{0});
    const cv::Point2d centre(edge.circle.x - out.crop.x, edge.circle.y - out.crop.y);
    RegionFlattener flattener(grey, centre, ppu);
    flattener.glass(out, edge.circle.radius - std::max(0.8 * ppu, 1.6 * edge.blur));
    if (judgeFerrule) {
        const double ring = std::min(edge.ring, 12 * ppu) + std::max(ppu, 2.5 * edge.blur);
        flattener.ferrule(out, edge.circle.radius + ring, 2 * edge.circle.radius);
    }
    return out;
}

}  // namespace clendo::face
