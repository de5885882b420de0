#include "face/size/small_rings.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <vector>

#include "face/noise/map_noise.h"

namespace clendo::face {
namespace {

constexpr double narrowest = 3.5, widest = 16;  // sigmas: the blur fills smaller rings, larger ones have outlines inside
constexpr double leastRound = 0.62;             // of the circle around it
constexpr double mostFilled = 0.75;             // of the rim's contrast in the middle
constexpr double middle = 0.3;                  // of its radius
constexpr double surely = 4;                    // times the noise
constexpr double leastNoise = 0.003;            // of an 8-bit picture
constexpr double outlined = 0.96;               // of the circle around a round thing's outline: noise makes it larger
constexpr double bin = 0.5;                     // pixels

}  // namespace

std::optional<double> ringDiameter(const Flattened& glass, const Piece& piece, double sigma)
{
    const double diameter = 2 * piece.radius;
    if (piece.region != Region::Glass || piece.atRim || diameter < narrowest * sigma || diameter > widest * sigma) return std::nullopt;
    if (piece.area < leastRound * std::numbers::pi * piece.radius * piece.radius && !piece.hollow) return std::nullopt;
    const cv::Moments m = cv::moments(piece.outline);
    const cv::Point2d centre = (m.m00 > 0 && !piece.hollow ? cv::Point2d(m.m10 / m.m00, m.m01 / m.m00) : cv::Point2d(piece.centre)) - glass.origin;
    const double reach = piece.radius + 2 * sigma;
    const cv::Mat1f& map = glass.contrast;
    struct Ring {
        double sum = 0;
        int count = 0;
    };
    std::vector<Ring> rings(static_cast<std::size_t>(reach / bin) + 2);
    Ring inside;
    const int side = static_cast<int>(2 * reach) + 3;
    const cv::Rect box = cv::Rect(cvFloor(centre.x - reach), cvFloor(centre.y - reach), side, side) & cv::Rect(0, 0, map.cols, map.rows);
    for (int y = box.y; y < box.br().y; ++y)
        for (int x = box.x; x < box.br().x; ++x) {
            const double distance = std::hypot(x - centre.x, y - centre.y);
            if (distance > reach || !glass.judged(y, x)) continue;
            const double value = piece.contrast < 0 ? -double(map(y, x)) : double(map(y, x));
            auto& ring = rings[static_cast<std::size_t>(distance / bin)];
            ring.sum += value;
            ++ring.count;
            if (distance < std::max(1.0, middle * piece.radius)) {
                inside.sum += value;
                ++inside.count;
            }
        }
    std::vector<double> profile;  // each ring's mean with its neighbours
    for (std::size_t i = 0; i < rings.size(); ++i) {
        double sum = 0;
        int count = 0;
        for (std::size_t k = i - std::min<std::size_t>(i, 1); k <= std::min(rings.size() - 1, i + 1); ++k) {
            sum += rings[k].sum;
            count += rings[k].count;
        }
        profile.push_back(count > 0 ? sum / count : 0);
    }
    const auto rim = std::max_element(profile.begin(), profile.end());
    const auto at = static_cast<std::size_t>(rim - profile.begin());
    if (inside.count == 0 || (double(at) + 0.5) * bin < middle * piece.radius) return std::nullopt;
    const double mean = inside.sum / inside.count;
    if (mean > mostFilled * *rim) return std::nullopt;
    const double noise = std::max({glass.lost, noiseOf(glass.contrast, glass.judged), leastNoise}) / std::sqrt(double(inside.count));
    if (*rim - mean < surely * noise) return std::nullopt;
    // what is no circle reaches farther than its mean
    const double reaches = piece.hollow ? 1 : std::max(1.0, outlined * piece.radius / std::sqrt(piece.area / std::numbers::pi));
    for (std::size_t i = at; i + 1 < profile.size(); ++i)
        if (profile[i + 1] < *rim / 2)
            return reaches * 2 * bin * (double(i) + 0.5 + (profile[i] - *rim / 2) / std::max(1e-9, profile[i] - profile[i + 1]));
    return std::nullopt;
}

}  // namespace clendo::face
