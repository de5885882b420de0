#include "face/size/rings.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <vector>

#include "face/size/falls_to.h"
#include "face/size/line_width.h"

namespace clendo::face {
namespace {

constexpr double narrowest = 3.5;             // sigmas: the blur fills smaller rings
constexpr double largest = 300;               // pixels
constexpr double leastRound = 0.62;           // of the circle around it
constexpr double mostFilled = 0.75;           // of the rim's contrast in the middle
constexpr double surely = 4;                  // times the noise
constexpr double roughness = 0.35;            // pixels by which noise makes the circle around an outline larger
constexpr double faint = 0.35, round = 0.78;  // contrast; of the circle around it: a droplet, whose outline the noise makes rough
constexpr double bin = 0.5;                   // pixels
constexpr int finest = 4, mostParts = 400;    // parts of a pixel to which an outline is drawn; of the side of its picture

/// Mean contrast by the distance from an outline, in steps of `bin`; the outline lies at `zero`.
struct AcrossRim {
    std::vector<double> mean;
    std::vector<int> count;
    double zero = 0;
};

/// Pixels from the outline for each pixel of `box`, negative inside.
cv::Mat1f distances(const std::vector<cv::Point2f>& outline, cv::Point2d origin, cv::Rect box)
{
    const int finer = std::clamp(mostParts / std::max(box.width, box.height), 1, finest), middle = finer / 2;
    std::vector<cv::Point> points;
    for (const auto& p : outline) {
        const cv::Point2d at = cv::Point2d(p) - origin - cv::Point2d(box.tl());
        points.emplace_back(cvFloor((at.x + 0.5) * finer), cvFloor((at.y + 0.5) * finer));
    }
    cv::Mat1b within(box.height * finer, box.width * finer, std::uint8_t{0}), beside(within.size(), std::uint8_t{255});
    cv::fillPoly(within, std::vector{points}, cv::Scalar(255));
    cv::polylines(beside, std::vector{points}, true, cv::Scalar(0));
    cv::Mat1f away;
    cv::distanceTransform(beside, away, cv::DIST_L2, cv::DIST_MASK_5);
    cv::Mat1f out(box.size());
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x) {
            const cv::Point at(x * finer + middle, y * finer + middle);
            out(y, x) = (within(at) ? -away(at) - 1 : away(at)) / static_cast<float>(finer);  // the outline is a part of what it encloses
        }
    return out;
}

AcrossRim acrossRim(const Flattened& glass, const Piece& piece, double reach)
{
    const cv::Mat1f& map = glass.contrast;
    const cv::Point2d centre = cv::Point2d(piece.centre) - glass.origin;
    const double half = piece.radius + reach;
    const int side = static_cast<int>(2 * half) + 3;
    const cv::Rect box = cv::Rect(cvFloor(centre.x - half), cvFloor(centre.y - half), side, side) & cv::Rect(0, 0, map.cols, map.rows);
    if (box.empty()) return {};
    const cv::Mat1f away = distances(piece.outline, glass.origin, box);
    AcrossRim out;
    out.zero = piece.radius / bin;
    std::vector<double> sum(static_cast<std::size_t>(half / bin) + 1);
    out.count.resize(sum.size());
    for (int y = 0; y < box.height; ++y)
        for (int x = 0; x < box.width; ++x) {
            const cv::Point at = box.tl() + cv::Point(x, y);
            const double place = out.zero + double(away(y, x)) / bin;
            if (!glass.judged(at) || place < 0 || place >= double(sum.size())) continue;
            const auto i = static_cast<std::size_t>(place);
            sum[i] += piece.contrast < 0 ? -double(map(at)) : double(map(at));
            ++out.count[i];
        }
    for (std::size_t i = 0; i < sum.size(); ++i) {  // each with its neighbours
        double all = 0;
        int count = 0;
        for (std::size_t k = i - std::min<std::size_t>(i, 1); k <= std::min(sum.size() - 1, i + 1); ++k) {
            all += sum[k];
            count += out.count[k];
        }
        out.mean.push_back(count > 0 ? all / count : 0);
    }
    return out;
}

}  // namespace

std::optional<double> ringDiameter(const Flattened& glass, const Piece& piece, double sigma, double noise)
{
    const double diameter = 2 * piece.radius;
    if (piece.region != Region::Glass || piece.atRim || diameter < narrowest * sigma || diameter > largest) return std::nullopt;
    const double area = cv::contourArea(piece.outline);
    if (area < leastRound * std::numbers::pi * piece.radius * piece.radius) return std::nullopt;
    const AcrossRim across = acrossRim(glass, piece, 2 * sigma);
    const auto& profile = across.mean;
    const auto rim = std::max_element(profile.begin(), profile.end());
    if (rim == profile.end()) return std::nullopt;
    // the middle, as far in as there is anything
    const auto deepest =
        static_cast<std::size_t>(std::find_if(across.count.begin(), across.count.end(), [](int n) { return n > 0; }) - across.count.begin());
    const auto at = static_cast<std::size_t>(rim - profile.begin());
    if (deepest + 2 > at) return std::nullopt;
    const auto lowest = std::min_element(profile.begin() + static_cast<long>(deepest), rim);
    if (*lowest > mostFilled * *rim) return std::nullopt;
    const auto dip = static_cast<std::size_t>(lowest - profile.begin());
    int seen = 0;
    for (std::size_t i = deepest; i <= std::min(dip + 1, at); ++i) seen += across.count[i];
    if (*rim - *lowest < surely * noise / std::sqrt(std::max(1.0, double(seen)))) return std::nullopt;
    const auto outer = fallsTo(profile, at, 1, *rim / 2), inner = fallsTo(profile, at, -1, (*rim + *lowest) / 2);
    if (!outer || !inner) return std::nullopt;
    // the blur makes a rim wider to both sides
    const double wide = (*outer - *inner) * bin, widened = wide - widthBeforeBlur(wide, sigma);
    const bool soft = std::abs(piece.contrast) < faint && area > round * std::numbers::pi * piece.radius * piece.radius;
    const double radius =
        (soft ? std::max(std::sqrt(area / std::numbers::pi), piece.radius - roughness) : piece.radius + 0.125) + (*outer + 0.5 - across.zero) * bin;
    return 2 * radius - widened;
}

}  // namespace clendo::face
