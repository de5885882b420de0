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
constexpr double faintUpTo = 0.2, clearFrom = 0.4;    // contrast
constexpr double largest = 11, largestAveraged = 14;  // sigmas
constexpr double leastRound = 0.6;                    // of the circle around it: a slender thing is no disc

/// How much longer than wide a thing may be, as so many discs in a line: dirt is round more often than not. `every`: of the diameters is tried.
struct Slenderness {
    double times;
    int discs;
    double likely;
    std::size_t every;
};
constexpr std::array<Slenderness, 4> slenderness{{{1, 1, 0.5, 1}, {1.4, 2, 0.2, 2}, {1.8, 2, 0.18, 2}, {2.4, 3, 0.12, 2}}};
constexpr int directions = 8;                                          // of slender things
constexpr double mayBeSlender = 0.9, surelyMay = 0.7, leastMay = 0.1;  // of the circle around its outline; of the likelihoods above
constexpr double shortestSlender = 1.5;                                // sigmas: of what is smaller no picture shows a direction

constexpr double rimShare = 0.35, middleOfRing = 0.3;  // of a droplet's radius; of its rim's contrast
constexpr double likelyRing = 0.2;

using Profile = std::array<float, radii>;  // of a blurred disc of contrast 1, by distance

double diameterOf(std::size_t k) { return smallest * std::pow(ratio, double(k)); }

/// A disc summed over points that stand for equal areas.
double blurredDisc(double distance, double radius)
{
    constexpr int rings = 6, points = 10;  // of half a ring: the other half is as far
    if (2 * radius > curved) return 0.5 * std::erfc((distance - radius) / std::numbers::sqrt2);
    double sum = 0;
    for (int ring = 0; ring < rings; ++ring) {
        const double r = radius * std::sqrt((ring + 0.5) / rings);
        for (int p = 0; p < points; ++p) {
            const double angle = std::numbers::pi * (p + 0.5) / points;
            const double dx = distance - r * std::cos(angle), dy = r * std::sin(angle);
            sum += std::exp(-(dx * dx + dy * dy) / 2);
        }
    }
    return radius * radius / 2 * sum / (rings * points);  // a Gaussian of the disc's area is so high
}

struct Profiles {
    std::array<Profile, diameters> discs{}, rings{};
};

/// Of each diameter in the table. A droplet is the rim's disc less the most of a disc within.
Profiles profilesOfAll()
{
    Profiles all;
    for (std::size_t k = 0; k < diameters; ++k)
        for (std::size_t i = 0; i < radii; ++i) {
            const double distance = double(i) * radialStep, radius = diameterOf(k) / 2, disc = blurredDisc(distance, radius);
            all.discs[k][i] = static_cast<float>(disc);
            all.rings[k][i] = static_cast<float>(disc - (1 - middleOfRing) * blurredDisc(distance, (1 - rimShare) * radius));
        }
    return all;
}

double at(const Profile& profile, double distance)
{
    constexpr double perSigma = 1 / radialStep;
    const double place = distance * perSigma;
    const int whole = static_cast<int>(place);
    const auto i = static_cast<std::size_t>(whole);
    if (i + 1 >= radii) return 0;
    const double part = place - whole;
    return (1 - part) * double(profile[i]) + part * double(profile[i + 1]);
}

struct Sample {
    double x, y, value;  // sigmas from the middle; contrast, positive
};

struct Fit {
    double fit = 0, contrast = 0;  ///< log likelihood over that of no thing; before the blur
};

/// A slender thing as discs in a line, fitted to samples.
Fit fitted(const std::vector<Sample>& samples, const Profile& profile, double width, const Slenderness& slender, double angle, double variance)
{
    const int discs = slender.discs;
    const double more = (slender.times - 1) * width, step = discs > 1 ? more / (discs - 1) : 0, first = -more / 2, cosine = std::cos(angle),
                 sine = std::sin(angle);
    double model2 = 1e-12, both = 0;
    for (const Sample& s : samples) {
        const double u = s.x * cosine + s.y * sine, v = s.y * cosine - s.x * sine;
        double model = 0;
        for (int k = 0; k < discs; ++k) {
            const double along = u - first - k * step;
            model += at(profile, std::sqrt(along * along + v * v));
        }
        model2 += model * model;
        both += model * s.value;
    }
    return {both * both / model2 / (2 * variance), both / model2 * discs / slender.times};  // of an ellipse of its length and width
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
    static const Profiles profiles = profilesOfAll();
    std::vector<Sample> samples;
    const cv::Mat1f& map = glass_.contrast;
    const cv::Point2d centre = cv::Point2d(middleOf(piece)) - glass_.origin;
    const double reach = piece.radius + margin * sigma_;
    const int side = static_cast<int>(2 * reach) + 2;
    const cv::Rect box =
        cv::Rect(static_cast<int>(centre.x - reach), static_cast<int>(centre.y - reach), side, side) & cv::Rect(0, 0, map.cols, map.rows);
    double strongest = 0;
    for (int y = box.y; y < box.br().y; ++y)
        for (int x = box.x; x < box.br().x; ++x) {
            if (std::hypot(x - centre.x, y - centre.y) > reach) continue;
            samples.push_back({(x - centre.x) / sigma_, (y - centre.y) / sigma_, piece.contrast < 0 ? -double(map(y, x)) : double(map(y, x))});
            strongest = std::max(strongest, samples.back().value);
        }
    const double variance = noise_ * noise_ + modelError * modelError * strongest * strongest;
    struct Candidate {
        Fit fit;
        double length, weight;
    };
    std::vector<Candidate> all;
    const double round = piece.area / (std::numbers::pi * piece.radius * piece.radius);
    const double may = std::clamp((mayBeSlender - round) / (mayBeSlender - surelyMay), leastMay, 1.0);
    for (const Slenderness& slender : slenderness)
        for (std::size_t k = 0; k < diameters; k += slender.every) {
            const double width = diameterOf(k), length = slender.times * width;
            if (slender.times > 1 && (length < std::max(shortestSlender, piece.radius / sigma_) || length > 2 * reach / sigma_)) continue;
            const int turns = slender.times > 1 ? directions : 1;
            for (int turn = 0; turn < turns; ++turn)
                all.push_back({fitted(samples, profiles.discs[k], width, slender, std::numbers::pi * turn / turns, variance), length,
                               slender.times > 1 ? may * slender.likely / turns : slender.likely});
        }
    constexpr Slenderness roundThing{1, 1, likelyRing, 1};
    for (std::size_t k = 0; k < diameters; ++k)
        all.push_back({fitted(samples, profiles.rings[k], diameterOf(k), roundThing, 0, variance), diameterOf(k), likelyRing});
    const double best = std::max_element(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.fit.fit < b.fit.fit; })->fit.fit;
    double sum = 0, weighted = 0;
    for (const Candidate& c : all) {
        const double w = c.weight * likely(c.fit.contrast, piece.contrast < 0) * std::exp(c.fit.fit - best);
        sum += w;
        weighted += w * c.length * sigma_;
    }
    return sum > 0 ? weighted / sum : 2 * piece.radius;
}

}  // namespace clendo::face
