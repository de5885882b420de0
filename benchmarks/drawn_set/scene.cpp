#include "scene.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

namespace clendo::drawn {
namespace {

constexpr int finer = 4;  // outlines are filled on a finer grid

cv::Mat1f texture(cv::Size size, double sigma, Dice& dice)
{
    // coarse grains need no fine grid
    const double reduce = std::max(1.0, sigma / 2);
    cv::Mat1f noise(cv::Size(cvCeil(size.width / reduce), cvCeil(size.height / reduce)));
    cv::theRNG().state = static_cast<std::uint64_t>(dice.below(1 << 30)) + 1;
    cv::randn(noise, 0, 1);
    cv::GaussianBlur(noise, noise, {}, sigma / reduce);
    cv::Mat1f out;
    cv::resize(noise, out, size, 0, 0, cv::INTER_CUBIC);
    cv::Scalar mean, deviation;
    cv::meanStdDev(out, mean, deviation);
    cv::subtract(out, mean, out);
    out /= std::max(1e-6, deviation[0]);
    return out;
}

/// Fine straight lines all over, mostly one way.
cv::Mat1f polishLines(cv::Size size, double step, Dice& dice)
{
    cv::Mat1f lines(size, 0.0F);
    const double way = dice.angle(), spread = dice.chance(0.5) ? 0.15 : 1.6;
    const double reach = std::hypot(size.width, size.height);
    for (int n = 20 + dice.below(60); n > 0; --n) {
        const double a = way + dice.normal(spread);
        const cv::Point2d at(dice.between(0, size.width), dice.between(0, size.height)), along(std::cos(a), std::sin(a));
        const double half = dice.between(0.02, 0.5) * reach;
        cv::line(lines, at - half * along, at + half * along, cv::Scalar(dice.between(-1, 1)), std::max(1, cvRound(dice.between(0.3, 0.9) / step)),
                 cv::LINE_AA);
    }
    cv::GaussianBlur(lines, lines, {}, 0.2 / step);
    return lines;
}

}  // namespace

void drawSurroundings(Plane& plane, const Surroundings& f, const Around& around, Dice& dice)
{
    const cv::Rect all({}, plane.light.size());
    const double px = 1 / plane.step;
    cv::Rect box = all;
    if (around.aside > 0) {
        const int top = around.top ? 0 : cvRound(plane.centre.y - 2 * around.aside * px),
                  bottom = around.bottom ? all.height : cvRound(plane.centre.y + 2 * around.aside * px);
        box &= cv::Rect(cvRound(plane.centre.x - around.aside * px), top, cvRound(2 * around.aside * px), bottom - top);
    }
    if (box.empty()) return;
    cv::Mat1f grain = texture(box.size(), f.grainSize / 2.35 * px, dice);
    const cv::Mat1f lines = polishLines(box.size(), plane.step, dice);
    if (f.rectangular) {  // filler of glass in the resin
        const cv::Mat1f filler = texture(box.size(), f.grainSize * px, dice);
        cv::max(grain, filler * 2.0 - 1.5, grain);
    }
    const double holeRadius = f.claddingRadius + f.ringWidth + cv::norm(f.holeAt) * 0.98;
    const double emptyFrom = dice.angle(), emptyFor = 2 * CV_PI * (1 - f.filled);
    const double soft = 0.15;  // µm: edges are never quite sharp
    const auto step = [&](double d) { return 1 / (1 + std::exp(-d / soft * 1.7)); };
    for (int y = 0; y < box.height; ++y)
        for (int x = 0; x < box.width; ++x) {
            const cv::Point2d p = (cv::Point2d(box.x + x, box.y + y) - plane.centre) * plane.step;
            const double r = cv::norm(p), core = cv::norm(p - f.coreAt) / f.coreRadius;
            const double line = f.polish * double(lines(y, x));
            double ferrule = f.ferruleLight * (1 + f.grain * double(grain(y, x)) + line);
            if (f.bevel > 0 && r > f.bevel) ferrule *= std::max(0.12, 1 - (r - f.bevel) / 25);
            const double glass = 1 + f.coreLight * step((1 - core) * f.coreRadius) * (1 - f.coreGraded * std::min(1.0, core * core)) + line / 3;
            double way = std::atan2(p.y, p.x) - emptyFrom;
            while (way < 0) way += 2 * CV_PI;
            const double ring = way < emptyFor ? ferrule : f.ringLight * (1 + 0.3 * f.grain * double(grain(y, x)));
            const double inGlass = step(f.claddingRadius - r), inHole = step(holeRadius - cv::norm(p - f.holeAt));
            plane.light(box.y + y, box.x + x) =
                static_cast<float>(std::max(0.0, inGlass * glass + (1 - inGlass) * (inHole * ring + (1 - inHole) * ferrule)));
        }
}

Shade shadeOf(const Thing& thing, const Plane& plane)
{
    const double px = 1 / plane.step;
    const double margin = 3 * thing.soft + 3 * plane.step;
    double left = 1e9, right = -1e9, top = 1e9, bottom = -1e9;
    for (const auto& o : thing.outlines)
        for (const auto& p : o) {
            left = std::min(left, p.x);
            right = std::max(right, p.x);
            top = std::min(top, p.y);
            bottom = std::max(bottom, p.y);
        }
    const cv::Point from(cvFloor(plane.centre.x + (left - margin) * px), cvFloor(plane.centre.y + (top - margin) * px));
    const cv::Point to(cvCeil(plane.centre.x + (right + margin) * px) + 1, cvCeil(plane.centre.y + (bottom + margin) * px) + 1);
    const cv::Rect whole(from, to);
    cv::Mat1b mask(whole.size() * finer, std::uint8_t{0});
    for (const auto& o : thing.outlines) {
        std::vector<cv::Point> points;
        for (const auto& p : o)
            points.emplace_back(cvRound(((plane.centre.x + p.x * px - from.x) + 0.5) * finer - 0.5),
                                cvRound(((plane.centre.y + p.y * px - from.y) + 0.5) * finer - 0.5));
        cv::fillPoly(mask, std::vector{points}, 255);
    }
    cv::Mat1f share;
    cv::resize(mask, mask, whole.size(), 0, 0, cv::INTER_AREA);
    mask.convertTo(share, CV_32F, 1 / 255.0);
    if (thing.soft > 0) cv::GaussianBlur(share, share, {}, thing.soft * px);
    cv::Mat1f profile(share.size(), 1.0F);
    const double size = std::max(1.0, thing.truth.size.value());
    if (thing.body == Body::DarkRim || thing.body == Body::LitMiddle) {
        cv::Mat1b solid;
        cv::compare(share, 0.5, solid, cv::CMP_GT);
        cv::Mat1f depth;
        cv::distanceTransform(solid, depth, cv::DIST_L2, 5);
        const double rim = thing.body == Body::DarkRim ? std::max(0.45, 0.1 * size) : 0.25 * size;
        for (int y = 0; y < depth.rows; ++y)
            for (int x = 0; x < depth.cols; ++x) {
                const double within = std::clamp((double(depth(y, x)) * plane.step - rim) / (0.3 * rim), 0.0, 1.0);
                profile(y, x) = static_cast<float>(1 - within * (thing.body == Body::DarkRim ? 0.75 : 1.3));
            }
    }
    if (!thing.line.empty() && (!thing.strength.empty() || thing.body == Body::OneBrightSide)) {
        // nearest point of the line
        for (int y = 0; y < share.rows; ++y)
            for (int x = 0; x < share.cols; ++x) {
                if (share(y, x) <= 0) continue;
                const cv::Point2d p = (cv::Point2d(from.x + x, from.y + y) - plane.centre) * plane.step;
                const cv::Point2d a = thing.line.front(), b = thing.line.back(), d = b - a;
                const double along = std::clamp((p - a).dot(d) / d.dot(d), 0.0, 1.0) * double(thing.line.size() - 1);
                const auto i = std::min(static_cast<std::size_t>(along), thing.line.size() - 2);
                const double part = along - double(i);
                double s = thing.strength.empty() ? 1 : thing.strength[i] * (1 - part) + thing.strength[i + 1] * part;
                const cv::Point2d middle = thing.line[i] + part * (thing.line[i + 1] - thing.line[i]);
                const bool side = d.x * (p.y - middle.y) - d.y * (p.x - middle.x) > 0;
                if (thing.body == Body::OneBrightSide && side) s *= -0.75;
                profile(y, x) = static_cast<float>(s);
            }
    }
    Shade out;
    out.box = whole & cv::Rect({}, plane.light.size());
    if (out.box.empty()) return out;
    cv::Mat1f leaves;
    cv::multiply(share, profile, leaves);
    leaves.convertTo(leaves, CV_32F, -thing.takes, 1.0);
    out.leaves = leaves(out.box - from).clone();
    return out;
}

}  // namespace clendo::drawn
