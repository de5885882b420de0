#include "face/size/small_discs.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <vector>

namespace clendo::face {
namespace {

constexpr std::size_t diameters = 34, radii = 112;
constexpr double smallest = 0.4, ratio = 1.12;         // of the diameters in the table; sigmas
constexpr double radialStep = 0.125;                   // sigmas
constexpr double curved = 7;                           // diameter up to which the edge's curvature changes its blur, sigmas
constexpr double margin = 1.5;                         // around the outline, sigmas
constexpr double modelError = 0.04;                    // share of the strongest contrast by which the blur is no Gaussian and dirt is no disc
constexpr double mostWeight = 0.5, mostRounded = 0.8;  // against the outline, which JPEG draws in patterns of its own
constexpr double roundingNoise = 2.5;  // of JPEG's step for coarse details: fine ones are rounded by several times as much, all of a block together
constexpr double faintUpTo = 0.2, clearFrom = 0.4;   // contrast
constexpr double largest = 7, largestAveraged = 14;  // sigmas
constexpr double leastRound = 0.6;                   // of the circle around it: a slender thing is no disc

using Profile = std::array<float, radii>;  // of a blurred disc of contrast 1, by distance

double diameterOf(std::size_t k) { return smallest * std::pow(ratio, double(k)); }

/// A disc summed over points that stand for equal areas.
double blurredDisc(double distance, double radius)
{
    constexpr int rings = 6, points = 20;
    if (2 * radius > curved) return 0.5 * std::erfc((distance - radius) / std::numbers::sqrt2);
    double sum = 0;
    for (int ring = 0; ring < rings; ++ring) {
        const double r = radius * std::sqrt((ring + 0.5) / rings);
        for (int p = 0; p < points; ++p) {
            const double angle = 2 * std::numbers::pi * (p + 0.5) / points;
            const double dx = distance - r * std::cos(angle), dy = r * std::sin(angle);
            sum += std::exp(-(dx * dx + dy * dy) / 2);
        }
    }
    return radius * radius / 2 * sum / (rings * points);  // a Gaussian of the disc's area is so high
}

std::array<Profile, diameters> blurredDiscs()
{
    std::array<Profile, diameters> profiles{};
    for (std::size_t k = 0; k < diameters; ++k)
        for (std::size_t i = 0; i < radii; ++i) profiles[k][i] = static_cast<float>(blurredDisc(double(i) * radialStep, diameterOf(k) / 2));
    return profiles;
}

double at(const Profile& profile, double distance)
{
    const auto i = static_cast<std::size_t>(distance / radialStep);
    if (i + 1 >= radii) return 0;
    const double part = distance / radialStep - double(i);
    return (1 - part) * double(profile[i]) + part * double(profile[i + 1]);
}

/// Of its area: noise that hangs on to one side moves it less than the circle around the outline.
cv::Point2f middleOf(const Piece& piece)
{
    const cv::Moments m = cv::moments(piece.outline);
    if (m.m00 <= 0) return piece.centre;
    return {static_cast<float>(m.m10 / m.m00), static_cast<float>(m.m01 / m.m00)};
}

/// How likely dirt is to have this contrast before the blur: most lies between a quarter and black, fainter are films and droplets.
double likely(double contrast, bool dark)
{
    constexpr double faint = 0.05, common = 0.25, rare = 0.15, black = 1, spread = 0.15;
    if (dark && contrast > black) return std::exp(-std::pow((contrast - black) / spread, 2) / 2);
    return std::clamp((contrast - faint) / (common - faint), rare, 1.0);
}

}  // namespace

SmallDiscs::SmallDiscs(const Flattened& glass, double sigma, double noise)
    : glass_(glass), sigma_(sigma), noise_(std::max(noise, roundingNoise * glass.rounding))
{
}

double SmallDiscs::weight(const Piece& piece) const
{
    const double most = piece.smoothing > sigma_ ? largestAveraged : largest;
    if (piece.region != Region::Glass || piece.hollow || piece.atRim || 2 * piece.radius > most * sigma_) return 0;
    if (piece.area < leastRound * std::numbers::pi * piece.radius * piece.radius) return 0;
    return (glass_.rounding > 0 ? mostRounded : mostWeight) * std::clamp((clearFrom - std::abs(piece.contrast)) / (clearFrom - faintUpTo), 0.0, 1.0);
}

double SmallDiscs::diameter(const Piece& piece) const
{
    static const std::array<Profile, diameters> profiles = blurredDiscs();
    struct Sample {
        double distance, value;  // sigmas; contrast, positive
    };
    std::vector<Sample> samples;
    const cv::Mat1f& map = glass_.contrast;
    const cv::Point2d centre = cv::Point2d(middleOf(piece)) - glass_.origin;
    const double reach = piece.radius + margin * sigma_;
    const int side = static_cast<int>(2 * reach) + 2;
    const cv::Rect box =
        cv::Rect(static_cast<int>(centre.x - reach), static_cast<int>(centre.y - reach), side, side) & cv::Rect(0, 0, map.cols, map.rows);
    double strongest = 0, value2 = 0;
    for (int y = box.y; y < box.br().y; ++y)
        for (int x = box.x; x < box.br().x; ++x) {
            const double distance = std::hypot(x - centre.x, y - centre.y);
            if (distance > reach) continue;
            samples.push_back({distance / sigma_, piece.contrast < 0 ? -double(map(y, x)) : double(map(y, x))});
            const double value = samples.back().value;
            strongest = std::max(strongest, value);
            value2 += value * value;
        }
    const double variance = noise_ * noise_ + modelError * modelError * strongest * strongest;
    std::array<double, diameters> fits{}, contrasts{};
    for (std::size_t k = 0; k < diameters; ++k) {
        double model2 = 1e-12, both = 0;
        for (const Sample& s : samples) {
            const double model = at(profiles[k], s.distance);
            model2 += model * model;
            both += model * s.value;
        }
        contrasts[k] = both / model2;
        fits[k] = -(value2 - both * both / model2) / (2 * variance);
    }
    const double best = *std::max_element(fits.begin(), fits.end());
    double sum = 0, weighted = 0;
    for (std::size_t k = 0; k < diameters; ++k) {
        const double w = likely(contrasts[k], piece.contrast < 0) * std::exp(fits[k] - best);
        sum += w;
        weighted += w * diameterOf(k) * sigma_;
    }
    return sum > 0 ? weighted / sum : 2 * piece.radius;
}

}  // namespace clendo::face
