#include "thing.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

namespace clendo::drawn {
namespace {

using Outline = std::vector<cv::Point2d>;

cv::Point2d toward(double angle) { return {std::cos(angle), std::sin(angle)}; }

/// Corners at random angles, near an ellipse.
Outline polygon(Dice& dice, cv::Point2d at, double along, double across, double turn, int corners, double rough)
{
    std::vector<double> angles(static_cast<std::size_t>(corners));
    for (int i = 0; i < corners; ++i) angles[static_cast<std::size_t>(i)] = 2 * CV_PI * (i + dice.between(-0.35, 0.35)) / corners;
    Outline out;
    for (const double a : angles) {
        const double r = 1 - dice.between(0, rough), x = along / 2 * r * std::cos(a), y = across / 2 * r * std::sin(a);
        out.emplace_back(at.x + x * std::cos(turn) - y * std::sin(turn), at.y + x * std::sin(turn) + y * std::cos(turn));
    }
    return out;
}

/// A closed curve through random bulges.
Outline blob(Dice& dice, cv::Point2d at, double along, double across, double turn, double rough)
{
    const double two = dice.between(0, rough), three = dice.between(0, rough), p2 = dice.angle(), p3 = dice.angle();
    Outline out;
    for (int i = 0; i < 48; ++i) {
        const double a = 2 * CV_PI * i / 48, r = 1 + two * std::cos(2 * a + p2) + three * std::cos(3 * a + p3);
        const double x = along / 2 * r * std::cos(a), y = across / 2 * r * std::sin(a);
        out.emplace_back(at.x + x * std::cos(turn) - y * std::sin(turn), at.y + x * std::sin(turn) + y * std::cos(turn));
    }
    return out;
}

/// A band of that width along a line.
Outline band(const Outline& line, double width)
{
    Outline left, right;
    for (std::size_t i = 0; i < line.size(); ++i) {
        const cv::Point2d d = line[std::min(i + 1, line.size() - 1)] - line[i > 0 ? i - 1 : 0];
        const double n = std::max(1e-9, cv::norm(d));
        const cv::Point2d across(-d.y / n * width / 2, d.x / n * width / 2);
        left.push_back(line[i] + across);
        right.push_back(line[i] - across);
    }
    left.insert(left.end(), right.rbegin(), right.rend());
    return left;
}

bool inside(const std::vector<Outline>& outlines, cv::Point2d at)
{
    return std::any_of(outlines.begin(), outlines.end(), [&](const Outline& o) {
        const std::vector<cv::Point2f> as(o.begin(), o.end());
        return cv::pointPolygonTest(as, at, false) >= 0;
    });
}

/// The sides of an outline in steps of no more than a micrometre.
Outline dense(const Outline& o)
{
    Outline out;
    for (std::size_t i = 0; i < o.size(); ++i) {
        const cv::Point2d a = o[i], b = o[(i + 1) % o.size()];
        const int steps = std::max(1, cvCeil(cv::norm(b - a)));
        for (int s = 0; s < steps; ++s) out.push_back(a + (b - a) * (double(s) / steps));
    }
    return out;
}

/// Size, place and reach from the outline.
Thing measured(Thing t, FindingKind kind, Appearance appearance)
{
    Outline all;
    for (const auto& o : t.outlines) {
        const Outline points = dense(o);
        all.insert(all.end(), points.begin(), points.end());
    }
    const std::vector<cv::Point2f> as(all.begin(), all.end());
    cv::Point2f middle;
    float radius = 0;
    cv::minEnclosingCircle(as, middle, radius);
    const cv::RotatedRect box = cv::minAreaRect(as);
    Finding& f = t.truth;
    f.kind = kind;
    f.appearance = appearance;
    f.centre = {Micrometre(double(middle.x)), Micrometre(double(middle.y))};
    f.size = Micrometre(2 * double(radius));
    f.width = Micrometre(double(std::min(box.size.width, box.size.height)));
    f.length = Micrometre(double(std::max(box.size.width, box.size.height)));
    double near = 1e9, far = 0;
    for (const auto& p : all) {
        near = std::min(near, cv::norm(p));
        far = std::max(far, cv::norm(p));
    }
    f.nearest = Micrometre(inside(t.outlines, {0, 0}) ? 0 : near);
    f.farthest = Micrometre(far);
    return t;
}

}  // namespace

Thing speck(Dice& dice, cv::Point2d at, double size)
{
    Thing t;
    const int crystals = 1 + dice.below(3);
    for (int i = 0; i < crystals; ++i) {
        const double part = i == 0 ? 0.85 : dice.between(0.35, 0.7), off = i == 0 ? 0 : 0.3 * size;
        t.outlines.push_back(
            polygon(dice, at + off * toward(dice.angle()), part * size, part * size * dice.between(0.55, 1), dice.angle(), 4 + dice.below(5), 0.3));
    }
    t.takes = dice.between(0.2, 0.92);
    t.body = size > 4 && dice.chance(0.3) ? Body::LitMiddle : Body::Even;
    return measured(std::move(t), FindingKind::Defect, Appearance::Particle);
}

Thing flake(Dice& dice, cv::Point2d at, double length)
{
    Thing t;
    t.outlines = {polygon(dice, at, length, length / dice.between(1.3, 3.4), dice.angle(), 4 + dice.below(3), 0.15)};
    t.takes = dice.between(0.15, 0.6) * (dice.chance(0.15) ? -0.6 : 1);
    t.body = dice.chance(0.5) ? Body::DarkRim : Body::Even;
    return measured(std::move(t), FindingKind::Defect, Appearance::Particle);
}

Thing droplet(Dice& dice, cv::Point2d at, double size)
{
    Thing t;
    t.outlines = {blob(dice, at, size, size * dice.between(0.8, 1), dice.angle(), 0.06)};
    t.takes = dice.between(0.2, 0.6);
    t.soft = dice.between(0.1, 0.4);
    t.body = Body::DarkRim;
    return measured(std::move(t), FindingKind::Defect, Appearance::Droplet);
}

Thing film(Dice& dice, cv::Point2d at, double size)
{
    Thing t;
    const int patches = 2 + dice.below(3);
    for (int i = 0; i < patches; ++i)
        t.outlines.push_back(blob(dice, at + (i == 0 ? 0.0 : dice.between(0.1, 0.28) * size) * toward(dice.angle()), size * dice.between(0.5, 0.75),
                                  size * dice.between(0.3, 0.6), dice.angle(), 0.15));
    t.takes = dice.between(0.1, 0.35) * (dice.chance(0.2) ? -1 : 1);
    t.soft = dice.between(0.3, 1.2);
    return measured(std::move(t), FindingKind::Defect, Appearance::Film);
}

Thing pit(Dice& dice, cv::Point2d at, double size)
{
    Thing t;
    t.outlines = {blob(dice, at, size, size * dice.between(0.75, 1), dice.angle(), 0.12)};
    t.takes = dice.between(0.35, 0.9);
    t.body = size > 3 && dice.chance(0.4) ? Body::LitMiddle : Body::Even;
    return measured(std::move(t), FindingKind::Defect, Appearance::Pit);
}

Thing chip(Dice& dice, double glassRadius, double size)
{
    Thing t;
    const double a = dice.angle();
    t.outlines = {polygon(dice, (glassRadius - 0.3 * size) * toward(a), size * dice.between(1, 1.6), size, a + CV_PI / 2, 6 + dice.below(3), 0.25)};
    t.takes = dice.between(0.45, 0.9);
    return measured(std::move(t), FindingKind::Defect, Appearance::Chip);
}

Thing lint(Dice& dice, cv::Point2d at, double length)
{
    Thing t;
    double direction = dice.angle();
    double bend = dice.normal(0.03);
    t.line = {at};
    for (double s = 0; s < length; s += 1.5) {
        bend = 0.93 * bend + dice.normal(0.016);
        direction += bend * 1.5 + (dice.chance(0.02) ? dice.normal(0.6) : 0);
        t.line.push_back(t.line.back() + 1.5 * toward(direction));
    }
    const double width = dice.between(1.6, 4.2);
    t.outlines = {};
    for (std::size_t i = 0; i + 1 < t.line.size(); i += 6) {  // short bands: a long one that bends would cross itself
        const Outline part(t.line.begin() + static_cast<std::ptrdiff_t>(i),
                           t.line.begin() + static_cast<std::ptrdiff_t>(std::min(i + 8, t.line.size())));
        t.outlines.push_back(band(part, width));
    }
    t.takes = dice.between(0.25, 0.75);
    t = measured(std::move(t), FindingKind::Defect, Appearance::Lint);
    t.truth.width = Micrometre(width);
    return t;
}

Thing scratch(Dice& dice, cv::Point2d through, double angle, double length, double width)
{
    Thing t;
    const double bend = dice.normal(0.0006);
    const int steps = std::max(4, cvCeil(length / 2));
    double level = dice.between(0.6, 1);
    const double before = dice.between(0.2, 0.8) * length, fade = dice.between(1, 6);
    for (int i = 0; i <= steps; ++i) {
        const double s = length * i / steps - before;
        t.line.push_back(through + s * toward(angle) + bend * s * s * toward(angle + CV_PI / 2));
        level = std::clamp(level + dice.normal(0.07), 0.45, 1.0);  // deeper here, shallower there
        t.strength.push_back(level * std::clamp((0.5 + std::min(i, steps - i) * length / steps) / fade, 0.0, 1.0));
    }
    t.outlines = {band(t.line, width)};
    t.takes = dice.between(0.15, 0.75) * (dice.chance(0.35) ? -0.8 : 1);
    t.body = width > 1.5 && dice.chance(0.25) ? Body::OneBrightSide : Body::Even;
    t = measured(std::move(t), FindingKind::Scratch, Appearance::Scratch);
    t.truth.width = Micrometre(width);
    return t;
}

double gapBetween(const Thing& a, const Thing& b)
{
    const double apart = std::hypot((a.truth.centre.x - b.truth.centre.x).value(), (a.truth.centre.y - b.truth.centre.y).value()) -
                         (a.truth.size + b.truth.size).value() / 2;
    if (apart > 10) return apart;
    double least = 1e9;
    for (const auto& oa : a.outlines)
        for (const auto& p : dense(oa)) {
            if (inside(b.outlines, p)) return 0;
            for (const auto& ob : b.outlines)
                for (const auto& q : ob) least = std::min(least, cv::norm(p - q));
        }
    for (const auto& ob : b.outlines)
        for (const auto& q : dense(ob)) {
            if (inside(a.outlines, q)) return 0;
            for (const auto& oa : a.outlines)
                for (const auto& p : oa) least = std::min(least, cv::norm(p - q));
        }
    return least;
}

}  // namespace clendo::drawn
