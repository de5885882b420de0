#include "face/even/flatten.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <span>
#include <vector>

#include "face/even/crop.h"
#include "face/even/ferrule_light.h"
#include "face/even/light.h"
#include "face/find/radial_profile.h"
#include "face/median.h"
#include "face/noise/jpeg_blocks.h"
#include "face/noise/lone_pixels.h"

namespace clendo::face {
namespace {

constexpr double largestCore = 34;                     // um from the centre: beyond it no core changes the glass's level
constexpr double middleUm = 12, coreTolerance = 0.02;  // where dirt can hide in the mean over rings, and what its model may miss
constexpr double litCore = 0.25, litTolerance = 0.2;   // shares of the light, which may be too bright for the camera
constexpr double settled = 0.05;                       // pixels: a core's centre is known to no less
constexpr double litDoubt = 0.1, litDoubtWide = 0.04;  // the same: a wide core has little of its area near its edge
constexpr double lostTolerance = 3;
constexpr double edgeDoubtUm = 0.22;       // how far the background's own edges may be misplaced
constexpr double fringeDoubtUm = 0.35;     // the same where there is a fringe beside them
constexpr double ferruleUmPerPixel = 0.7;  // coarse enough to be quick, fine enough for 10 um
constexpr double roundedRim = 0.75;        // of JPEG's step: what it leaves of the rim in the blocks that hold a part of it
constexpr double lightUm = 15;             // over which the light of a place is averaged

struct Crop {
    cv::Mat1f grey;
    cv::Point2d centre;  ///< of the fibre, in the crop's own pixels
};

double insideEdge(const CladdingEdge& edge, double ppu) { return std::max(0.8 * ppu, 1.6 * edge.blur); }
double outsideEdge(const CladdingEdge& edge, double ppu) { return std::min(edge.ring, 12 * ppu) + std::max(ppu, 2.5 * edge.blur); }

/// The square of `reach` pixels around the fibre, as grey levels; reduced by a whole factor by averaging.
Crop cropAround(const cv::Mat1b& picture, const Circle& circle, double reach, int factor, Flattened& out)
{
    const cv::Rect wanted = squareAround(circle, reach, factor, picture.size());
    Crop crop;
    reduced(picture(wanted), factor).convertTo(crop.grey, CV_32F);
    out.reduction = factor;
    out.origin = {wanted.x + (factor - 1) / 2.0, wanted.y + (factor - 1) / 2.0};
    crop.centre = {(circle.x - out.origin.x) / factor, (circle.y - out.origin.y) / factor};
    return crop;
}

/// A lit core is far brighter than the glass and never quite round: what differs there by less than a share of its light is the light. Noise of the
/// light grows as its root.
void markLit(Flattened& out, cv::Point2d centre, double radius, const CoreEstimate& core)
{
    const double doubt = (core.kind == CoreKind::SingleMode ? litDoubt : litDoubtWide) * core.strength;
    cv::Mat1b disc(out.doubt.size(), std::uint8_t{0});
    cv::circle(disc, cv::Point(cvRound(centre.x), cvRound(centre.y)), cvRound(radius), 255, cv::FILLED);
    cv::add(out.doubt, cv::Scalar(doubt), out.doubt, disc);
    out.brightCentre = centre;
    out.brightRadius = radius;
    out.brightNoise = 1 / std::sqrt(1 + core.strength);
}

/// JPEG rounds a block as a whole: what it leaves of the rim may lie anywhere in the blocks that hold a part of it.
void markRimBlocks(Flattened& out, const Working& on)
{
    const int factor = on.reduction;
    const double middle = (factor - 1) / 2.0;  // of the pixels that became one
    const auto& edge = on.edge;
    const Circle asItCame{edge.circle.x * factor + on.origin.x + middle, edge.circle.y * factor + on.origin.y + middle, edge.circle.radius * factor,
                          edge.circle.support};
    const cv::Size upTo = cv::Size(on.origin) + on.picture.size() * factor;
    const cv::Point first = on.origin + factor * cv::Point(cvRound(out.origin.x), cvRound(out.origin.y));  // of the map
    const cv::Rect map({0, 0}, out.doubt.size());
    const double half = (jpegBlock - 1) / 2.0, from = asItCame.radius - edge.blur * factor;
    forEachJpegBlock(upTo, asItCame, {from - jpegBlock, asItCame.radius + jpegBlock}, 1, [&](const cv::Rect& block) {
        const double dx = std::abs(block.x + half - asItCame.x) + half, dy = std::abs(block.y + half - asItCame.y) + half;
        if (std::hypot(dx, dy) <= from) return;
        const auto pixel = [&](int at) { return cvCeil(double(at) / factor); };
        const cv::Point tl = block.tl() - first, br = block.br() - first;
        const cv::Rect there = cv::Rect(cv::Point(pixel(tl.x), pixel(tl.y)), cv::Point(pixel(br.x), pixel(br.y))) & map;
        if (!there.empty()) out.doubt(there) += roundedRim * out.rounding;
    });
}

/// Where light falls to the corners, a camera's noise is a larger share of it: what stands out there counts by its grey levels against the light in
/// most places.
void weighByLight(Flattened& f, const cv::Mat1f& grey, double sigma)
{
    // so wide a blur is one of a smaller picture
    constexpr double enough = 3;  // px of it
    const double smaller = std::max(1.0, sigma / enough);
    cv::Mat1f small, light;
    cv::resize(grey, small, {}, 1 / smaller, 1 / smaller, cv::INTER_AREA);
    cv::GaussianBlur(small, small, {}, sigma / smaller);
    cv::resize(small, light, grey.size(), 0, 0, cv::INTER_LINEAR);
    std::vector<float> all;
    constexpr int every = 3;
    for (int y = 0; y < light.rows; y += every)
        for (int x = 0; x < light.cols; x += every)
            if (f.judged(y, x)) all.push_back(light(y, x));
    if (all.empty()) return;
    const float usual = std::max(1.0F, medianOf(std::span(all)));
    for (int y = 0; y < light.rows; ++y)
        for (int x = 0; x < light.cols; ++x)
            if (f.judged(y, x)) f.contrast(y, x) *= std::sqrt(std::min(1.0F, light(y, x) / usual));
}

}  // namespace

double unjudgedBand(const CladdingEdge& edge, double ppu) { return insideEdge(edge, ppu) + outsideEdge(edge, ppu); }

Flattened flattenGlass(const Working& on, const CoreEstimate* expected)
{
    const CladdingEdge& edge = on.edge;
    const double ppu = on.pixelsPerMicrometre;
    Flattened out;
    const double outer = edge.circle.radius - insideEdge(edge, ppu);
    Crop crop = cropAround(on.picture, edge.circle, edge.circle.radius + 2, 1, out);
    out.lonePixels = on.lonePixels ? *on.lonePixels : mendLonePixels(crop.grey);
    const Light light(crop.grey, crop.centre, largestCore * ppu, outer - ppu);
    out.light = light.middle();
    const cv::Mat1f even = light.divide(crop.grey, 0, outer);
    out.core = estimateCore(even, crop.centre, ppu, expected);
    const CoreEstimate& core = out.core;
    // a core may lie off the middle: its profile is taken about its own centre
    const bool asExpected = expected && core.kind && core.kind == expected->kind;
    cv::Point2d shift = asExpected ? expected->offset * ppu : cv::Point2d();
    const double radius = core.kind ? core.shape.radius * ppu : 0;
    if (core.kind) {
        const double from = std::max(0.0, radius - 4 * ppu), to = radius + 4 * ppu;
        for (int pass = 0; pass < 3; ++pass) {
            const RadialProfile near(even, {0, std::min(outer, to + 2), crop.centre, shift, 1.3 * radius});
            const cv::Point2d by = near.eccentricity(even, from, to, 1.5 * ppu);
            shift += by;
            if (cv::norm(by) < settled) break;
        }
    }
    out.core.offset = shift / ppu;
    RadialProfile profile(even, {0, outer, crop.centre, shift, 1.3 * radius});
    if (core.strength > litCore) profile.raiseMiddle();
    out.rounding = on.jpegStep / std::max(1.0, light.middle());
    out.lost = on.lostNoise / std::max(1.0, light.middle());
    const double tolerance = coreTolerance + lostTolerance * out.lost + litTolerance * std::max(0.0, core.strength);
    // a core that is not believed may be there or not
    const auto levels = [&](double d) { return std::minmax({core.level(d / ppu), core.kind ? core.level(d / ppu) : core.glass}); };
    const double full = cv::norm(crop.grey, cv::NORM_INF) / std::max(1.0, light.middle());  // the camera shows no more
    const auto darkest = [&](double d) { return std::min(full, levels(d).first - tolerance); };
    const auto brightest = [&](double d) { return core.strength > litCore ? full : std::min(full, levels(d).second + tolerance); };
    profile.keepBetween(darkest, brightest, middleUm * ppu);
    // about a small core that is not lit, light from the side leaves a dark line that is not as dark all round
    const bool fringed = core.kind == CoreKind::SingleMode && std::abs(core.strength) < litCore;
    profile.divide(even, (fringed ? fringeDoubtUm : edgeDoubtUm) * ppu, out.contrast, out.doubt, out.judged);
    if (out.rounding > 0) markRimBlocks(out, on);
    if (core.strength > litCore) markLit(out, crop.centre, (core.shape.radius + 2) * ppu, core);
    return out;
}

Flattened flattenFerrule(const Working& on)
{
    const CladdingEdge& edge = on.edge;
    const double ppu = on.pixelsPerMicrometre;
    Flattened out;
    const int factor = std::max(1, static_cast<int>(ferruleUmPerPixel * ppu + 0.3));
    const Crop crop = cropAround(on.picture, edge.circle, ferruleLook * edge.circle.radius + factor, factor, out);
    const double inner = (edge.circle.radius + outsideEdge(edge, ppu)) / factor, outer = ferruleLook * edge.circle.radius / factor, um = ppu / factor;
    cv::Mat1b visible;
    if (!on.seen.empty()) {
        Flattened same;
        const Crop mask = cropAround(on.seen, edge.circle, ferruleLook * edge.circle.radius + factor, factor, same);
        cv::compare(mask.grey, 254, visible, cv::CMP_GE);
    }
    const cv::Mat1f even = overFerruleLight(crop.grey, crop.centre, inner, outer, visible);
    if (even.empty()) return {};
    RadialProfile(even, {inner, outer, crop.centre, {0, 0}, 0}).divide(even, edgeDoubtUm * um, out.contrast, out.doubt, out.judged);
    weighByLight(out, crop.grey, lightUm * um);
    return out;
}

}  // namespace clendo::face
