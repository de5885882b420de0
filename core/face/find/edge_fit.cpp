#include <algorithm>
#include <cmath>
#include <numeric>
#include <opencv2/imgproc.hpp>

#include "face/find/locate.h"
#include "face/find/ray_edges.h"

namespace clendo::face {
namespace {

constexpr int fewRays = 120;                                 // are enough to come near
constexpr double smallRadius = 115;                          // px: below it half the rays still lie no farther apart than those of a large fibre
constexpr double thickestRing = 0.86, thinnestRing = 0.988;  // radius of the glass over that of what lies around it
constexpr double wholeWithin = 0.8;                          // of the rays that must agree on an edge within another
constexpr double close = 0.02;                               // of the radius by which a circle moves that lay right
constexpr double closeReach = 0.10;                          // share of the radius that rays see to each side of it
constexpr double cropReach = 1.35;                           // radii: the rays and what the circle may still move

/// Adhesive that is not darker than the ferrule has two edges one after the other, of one sign, and the rays find the steeper: the glass ends at the
/// inner one. Nothing where there is but one. Where some rays found the one and some the other, their circle lies between and few agree.
std::optional<Circle> edgeWithin(const cv::Mat1f& grey, const Circle& outer, double sign, double outerCoverage)
{
    const double mostRadius = (outerCoverage < wholeWithin ? 1 : thinnestRing) * outer.radius;
    constexpr double near = 0.97, beyond = 1.03;  // of its radius
    const RayEdges edges(grey, outer, outer.radius * thickestRing, outer.radius * beyond, RayEdges::most / 2);
    const auto within = [&](double to, double share) -> std::optional<Circle> {
        Circle c = outer;
        const double coverage = RayEdges::fitCircle(edges.first(sign, share, to * outer.radius), c);
        return coverage < wholeWithin || c.radius > mostRadius ? std::nullopt : std::optional(c);
    };
    if (auto apart = within(near, 0.6)) return apart;  // well apart, however faint
    return within(beyond, 0.35);
}

/// The picture about a circle: everything happens near it, and a row of twelve fibres must not read the whole picture twelve times.
struct Around {
    cv::Rect place;
    cv::Mat1f grey;
    int rays;

    Around(const cv::Mat1b& picture, const Circle& circle) : rays(circle.radius < smallRadius ? RayEdges::most / 2 : RayEdges::most)
    {
        const int space = static_cast<int>(cropReach * circle.radius) + 4;
        place = cv::Rect(static_cast<int>(circle.x) - space, static_cast<int>(circle.y) - space, 2 * space, 2 * space) &
                cv::Rect(0, 0, picture.cols, picture.rows);
        if (!place.empty()) picture(place).convertTo(grey, CV_32F);
    }
    [[nodiscard]] Circle within(const Circle& c) const { return {c.x - place.x, c.y - place.y, c.radius, c.support}; }
};

/// Whether light becomes less (-1) or more (1) at the edge, outwards: glass to dark line, or to a brighter ferrule.
double signOf(const std::vector<double>& profile)
{
    const auto fifth = static_cast<std::ptrdiff_t>(profile.size() / 5);
    const auto mean = [&](auto first, auto last) { return std::accumulate(first, last, 0.0) / double(std::max<std::ptrdiff_t>(1, last - first)); };
    const double inside = mean(profile.begin(), profile.begin() + fifth), outside = mean(profile.end() - fifth, profile.end());
    const double darkest = *std::min_element(profile.begin(), profile.end());
    return std::min(inside, outside) - darkest > 0.12 * std::min(inside, outside) || inside > outside ? -1 : 1;
}

/// By which a circle became another, pixels.
double moved(const Circle& from, const Circle& to) { return std::hypot(to.x - from.x, to.y - from.y) + std::abs(to.radius - from.radius); }

/// What shows at the edge that rays agree on.
CladdingEdge edgeAt(const Around& around, const Circle& circle, double coverage, double sign)
{
    CladdingEdge out;
    out.circle = circle;
    out.coverage = coverage;
    if (const auto glass = edgeWithin(around.grey, circle, sign, coverage)) {
        Circle closer = *glass;
        const RayEdges edges(around.grey, closer, closer.radius * 0.96, closer.radius * 1.012, around.rays);
        if (const double agree = RayEdges::fitCircle(edges.steepest(sign), closer); agree > wholeWithin) {
            out.circle = closer;
            out.coverage = agree;
        }
    }
    const double from = out.circle.radius * 0.88, to = out.circle.radius * 1.10;
    out.profile = {RayEdges(around.grey, out.circle, from, to, RayEdges::most / 2).profile(), from};
    out.profile.seen = out.circle.radius;
    out.profile.sign = sign;
    out.become(shapeOf(out.profile));
    out.circle.x += around.place.x;
    out.circle.y += around.place.y;
    return out;
}

}  // namespace

void CladdingEdge::become(const EdgeShape& shape)
{
    circle.radius = shape.radius;
    blur = shape.blur;
    mostBlur = shape.mostBlur;
    ring = shape.ring;
    insideLevel = shape.insideLevel;
    outsideLevel = shape.outsideLevel;
}

std::optional<CladdingEdge> refine(const cv::Mat1b& picture, const Circle& coarse, double reach)
{
    const Around around(picture, coarse);
    if (around.grey.empty()) return std::nullopt;
    Circle circle = around.within(coarse);
    double sign = -1, coverage = 0;
    bool rough = true;
    for (int pass = 0; pass < 3; ++pass) {
        if (pass == 1 && !rough) continue;  // a second look from afar would see the same
        const RayEdges edges(around.grey, circle, circle.radius * (1 - reach), circle.radius * (1 + reach), pass < 2 ? fewRays : around.rays);
        if (pass < 2) sign = signOf(edges.profile());
        const Circle before = circle;
        coverage = RayEdges::fitCircle(edges.steepest(sign), circle);
        if (coverage <= 0) return std::nullopt;
        reach = std::min(reach, closeReach);
        rough = moved(before, circle) >= close * before.radius;
    }
    return edgeAt(around, circle, coverage, sign);
}

std::optional<CladdingEdge> refineAsBefore(const cv::Mat1b& picture, const Circle& before, double sign)
{
    const Around around(picture, before);
    if (around.grey.empty()) return std::nullopt;
    Circle circle = around.within(before);
    for (int pass = 0; pass < 2; ++pass) {
        const RayEdges edges(around.grey, circle, circle.radius * (1 - closeReach), circle.radius * (1 + closeReach), around.rays);
        const Circle from = circle;
        const double coverage = RayEdges::fitCircle(edges.steepest(sign), circle);
        if (coverage <= 0) break;
        if (moved(from, circle) < close * from.radius) return edgeAt(around, circle, coverage, sign);
    }
    return refine(picture, before);
}

}  // namespace clendo::face
