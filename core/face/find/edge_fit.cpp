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
    CladdingEdge out;
    // everything happens near the circle: a row of twelve fibres must not read the whole picture twelve times
    const int space = static_cast<int>(cropReach * coarse.radius) + 4;
    const cv::Rect near = cv::Rect(static_cast<int>(coarse.x) - space, static_cast<int>(coarse.y) - space, 2 * space, 2 * space) &
                          cv::Rect(0, 0, picture.cols, picture.rows);
    if (near.empty()) return std::nullopt;
    cv::Mat1f grey;
    picture(near).convertTo(grey, CV_32F);
    out.circle = {coarse.x - near.x, coarse.y - near.y, coarse.radius, coarse.support};
    const int rays = coarse.radius < smallRadius ? RayEdges::most / 2 : RayEdges::most;
    double sign = -1;  // glass to dark line: darker outwards
    bool rough = true;
    for (int pass = 0; pass < 3; ++pass) {
        if (pass == 1 && !rough) continue;  // a second look from afar would see the same
        const double from = out.circle.radius * (1 - reach), to = out.circle.radius * (1 + reach);
        const RayEdges edges(grey, out.circle, from, to, pass < 2 ? fewRays : rays);
        if (pass < 2) {
            const auto profile = edges.profile();
            const auto fifth = static_cast<std::ptrdiff_t>(profile.size() / 5);
            const auto mean = [&](auto first, auto last) {
                return std::accumulate(first, last, 0.0) / double(std::max<std::ptrdiff_t>(1, last - first));
            };
            const double inside = mean(profile.begin(), profile.begin() + fifth), outside = mean(profile.end() - fifth, profile.end());
            const double darkest = *std::min_element(profile.begin(), profile.end());
            sign = std::min(inside, outside) - darkest > 0.12 * std::min(inside, outside) || inside > outside ? -1 : 1;
        }
        const Circle before = out.circle;
        out.coverage = RayEdges::fitCircle(edges.steepest(sign), out.circle);
        if (out.coverage <= 0) return std::nullopt;
        reach = std::min(reach, 0.10);
        const double moved = std::hypot(out.circle.x - before.x, out.circle.y - before.y) + std::abs(out.circle.radius - before.radius);
        rough = moved >= close * before.radius;
    }
    if (const auto glass = edgeWithin(grey, out.circle, sign, out.coverage)) {
        Circle closer = *glass;
        const RayEdges edges(grey, closer, closer.radius * 0.96, closer.radius * 1.012, rays);
        if (const double coverage = RayEdges::fitCircle(edges.steepest(sign), closer); coverage > wholeWithin) {
            out.circle = closer;
            out.coverage = coverage;
        }
    }
    const double from = out.circle.radius * 0.88, to = out.circle.radius * 1.10;
    out.profile = {RayEdges(grey, out.circle, from, to, RayEdges::most / 2).profile(), from};
    out.profile.seen = out.circle.radius;
    out.profile.sign = sign;
    out.become(shapeOf(out.profile));
    out.circle.x += near.x;
    out.circle.y += near.y;
    return out;
}

}  // namespace clendo::face
