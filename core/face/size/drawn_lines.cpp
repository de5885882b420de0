#include "face/size/drawn_lines.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <optional>

#include "face/noise/map_noise.h"
#include "face/size/curve.h"
#include "face/size/shape.h"
#include "face/size/winding.h"

namespace clendo::face {
namespace {

constexpr double smoothing = 0.7;                     // pixels
constexpr double aboveNoise = 2.5, ofContrast = 0.1;  // sigmas; of the piece's contrast: what is less shows nothing of it
constexpr double aroundUm = 2.2;                      // its outline: what shows there is its own
constexpr std::size_t mostLines = 4, fewestSpots = 20;
constexpr double shortestUm = 10, slender = 4;                        // of a line; its length over how far it reaches aside
constexpr double mostLeft = 0.12, leastFirst = 0.25;                  // shares: of what no line explains, and of what the first one does
constexpr double goesOnUm = 2, goesOn = 1;                            // um beyond its ends and pixels beside it that it explains too
constexpr double touchUm = 3, armUm = 4;                              // between lines that meet; beyond the place where they do
constexpr double leastBeside = 0.4;                                   // of the shorter of two
constexpr double mostOff = 0.1, offOfWidth = 0.05, mostBend = 0.045;  // um off an arc; of its length
constexpr double barPerSpread = 2.8;                                  // width of a blurred bar over its standard deviation aside
constexpr double mostStronger = 1.3, fades = 0.6;                     // of a part's contrast over the line's; of its tips
constexpr double tipUm = 3, leastWithin = 0.85;                       // beyond its end; share of a part's outline

std::vector<Spot> spotsOf(const cv::Mat1f& shown, const Piece& piece, cv::Point2d origin, double ppu)
{
    cv::Mat1b near(shown.size(), std::uint8_t{0});
    cv::Point last(-1, -1);
    for (const auto& p : piece.outline) {
        const cv::Point at(cvRound(double(p.x) - origin.x), cvRound(double(p.y) - origin.y));
        if (at != last) cv::circle(near, at, cvCeil(aroundUm * ppu), cv::Scalar(255), cv::FILLED);
        last = at;
    }
    std::vector<Spot> spots;
    for (int y = 0; y < near.rows; ++y)
        for (int x = 0; x < near.cols; ++x)
            if (near(y, x) && shown(y, x) > 0) spots.push_back({cv::Point2d(x, y), double(shown(y, x))});
    return spots;
}

double strengthOf(const std::vector<Spot>& spots)
{
    double sum = 0;
    for (const auto& s : spots) sum += s.strength;
    return sum;
}

bool liesBeside(const Curve& a, const Curve& b)
{
    const double one = a.t(b.place(b.low, 0)), other = a.t(b.place(b.high, 0));
    return std::min(a.high, std::max(one, other)) - std::max(a.low, std::min(one, other)) > leastBeside * std::min(a.length(), b.length());
}

/// How many of the four ends lie beyond the place where two lines meet; nothing where they do not.
std::optional<int> armsBeyond(const Curve& a, const Curve& b, double ppu)
{
    const cv::Point2d fromA = a.place(a.low, 0), fromB = b.place(b.low, 0), toA = a.place(a.high, 0) - fromA, toB = b.place(b.high, 0) - fromB;
    const double lengthA = cv::norm(toA), lengthB = cv::norm(toB), turn = toA.cross(toB) / (lengthA * lengthB);
    if (std::abs(turn) < 0.01) return std::nullopt;
    const double inA = (fromB - fromA).cross(toB) / lengthB / turn, inB = (fromB - fromA).cross(toA) / lengthA / turn;
    const double touch = touchUm * ppu, arm = armUm * ppu;
    if (inA < -touch || inA > lengthA + touch || inB < -touch || inB > lengthB + touch) return std::nullopt;
    return int(inA > arm) + int(lengthA - inA > arm) + int(inB > arm) + int(lengthB - inB > arm);
}

/// Lines cross, with three arms and more, or lie side by side; what bends has two arms.
bool hangTogether(const std::vector<Curve>& lines, double ppu)
{
    for (std::size_t i = 0; i < lines.size(); ++i) {
        bool any = lines.size() == 1;
        for (std::size_t k = 0; k < lines.size(); ++k) {
            if (k == i) continue;
            const auto arms = armsBeyond(lines[i], lines[k], ppu);
            const bool fits = liesBeside(lines[i], lines[k]) || arms >= 3;
            if (arms && !fits) return false;
            any = any || fits;
        }
        if (!any) return false;
    }
    return true;
}

bool liesOn(const Curve& line, cv::Point2d p, double more)
{
    const double t = line.t(p), reach = line.half() + more;
    return t > line.low - reach && t < line.high + reach && std::abs(line.aside(p)) < reach;
}

/// Lines that run together make each other wider than they are: each is fitted again to what shows of it alone.
void fitAlone(std::vector<Curve>& lines, const std::vector<Spot>& spots, double ppu)
{
    constexpr int rounds = 2;
    for (int round = 0; round < rounds; ++round)
        for (Curve& line : lines) {
            std::vector<Spot> own;
            std::copy_if(spots.begin(), spots.end(), std::back_inserter(own), [&](const Spot& s) {
                return std::none_of(lines.begin(), lines.end(), [&](const Curve& other) { return &other != &line && liesOn(other, s.at, 1); });
            });
            if (own.size() >= fewestSpots) line = settled(line, own, ppu);
        }
}

/// The map without what shows of a line where others run so near that they shift it.
cv::Mat1f alone(const cv::Mat1f& shown, const std::vector<Curve>& lines, const Curve& line)
{
    cv::Mat1f out = shown.clone();
    for (double t = line.low; t <= line.high; t += 1) {
        const cv::Point2d p = line.place(t, 0);
        const auto near = [&](const Curve& other) { return &other != &line && liesOn(other, p, line.half() / 2); };
        if (std::any_of(lines.begin(), lines.end(), near)) cv::circle(out, cv::Point(p), cvCeil(line.half()), cv::Scalar(0), cv::FILLED);
    }
    return out;
}

/// Mean over the line of the stronger of what is darkest and what is brightest across it.
double contrastAlong(const Curve& c, const cv::Mat1f& contrast)
{
    double dark = 0, bright = 0;
    for (double t = c.low; t <= c.high; t += 1) {
        double least = 0, most = 0;
        for (double u = -c.half(); u <= c.half(); u += 1) {
            const cv::Point at(c.place(t, u));
            if (at.x < 0 || at.y < 0 || at.x >= contrast.cols || at.y >= contrast.rows) continue;
            least = std::min(least, double(contrast(at)));
            most = std::max(most, double(contrast(at)));
        }
        dark += least;
        bright += most;
    }
    return (-dark > bright ? dark : bright) / std::max(1.0, c.length());
}

Piece strokeOf(const Curve& c, const Piece& whole, const Flattened& glass)
{
    Piece p = whole;
    p.outline.clear();
    const double width = barPerSpread * c.spread;
    for (double t = c.low; t <= c.high; t += 0.25)
        for (const double side : {-0.5, 0.5}) p.outline.emplace_back(cv::Point2f(c.place(t, side * width) + glass.origin));
    p.contrast = contrastAlong(c, glass.contrast);
    p.area = c.length() * width;
    p.hollow = false;
    p.stroke = true;
    p.enclose();
    return p;
}

}  // namespace

DrawnLines::DrawnLines(const Flattened& glass, double ppu)
    : glass_(glass), ppu_(ppu), noise_(noiseOf(glass) / (2 * smoothing * std::sqrt(std::numbers::pi)))
{
    cv::Mat1f map;
    cv::GaussianBlur(glass.contrast, map, {}, smoothing);
    shown_ = cv::Mat1f(cv::abs(map)) - glass.doubt;
    shown_.setTo(0, glass.judged == 0);
}

std::vector<Piece> DrawnLines::of(const Piece& piece) const
{
    const double least = std::max(aboveNoise * noise_, ofContrast * std::abs(piece.contrast));
    cv::Mat1f shown;
    cv::subtract(shown_, cv::Scalar(least), shown);
    cv::threshold(shown, shown, 0, 0, cv::THRESH_TOZERO);
    const std::vector<Spot> own = spotsOf(shown, piece, glass_.origin, ppu_);
    std::vector<Spot> spots = own;
    const double all = strengthOf(spots);
    double left = all;
    std::vector<Curve> lines;
    while (lines.size() < mostLines && left > mostLeft * all && spots.size() >= fewestSpots) {
        const auto line = strongestCurve(spots, shown, ppu_);
        if (!line || line->length() < std::max(shortestUm * ppu_, slender * 2 * line->half())) return {};
        std::erase_if(spots, [&](const Spot& s) {
            const double t = line->t(s.at), beyond = goesOnUm * ppu_;
            return std::abs(line->aside(s.at)) < line->half() + goesOn && t > line->low - beyond && t < line->high + beyond;
        });
        left = strengthOf(spots);
        lines.push_back(*line);
        if (left > (1 - leastFirst) * all) return {};
    }
    if (lines.empty() || left > mostLeft * all || !hangTogether(lines, ppu_)) return {};

    if (lines.size() > 1) fitAlone(lines, own, ppu_);
    std::vector<Piece> strokes;
    for (const auto& line : lines) {
        Piece stroke = strokeOf(line, piece, glass_);
        const Shape shape = shapeOf(stroke, ppu_);
        const Course course = courseOf(stroke, shape, 1 / ppu_);
        // in how strongly it shows, both flanks of a groove tell its middle
        const auto winding = windingOf(alone(shown, lines, line), glass_.origin, 1, stroke, shape, course, ppu_);
        const double mayWind = std::max(mostOff, offOfWidth * shape.meanWidth);  // the flanks of a wide one differ along it
        if (!winding || winding->off - 2 * winding->unsure > mayWind || windsAsLint(*winding, shape.meanWidth)) return {};
        if (course.bend > mostBend * shape.longer) return {};
        strokes.push_back(std::move(stroke));
    }
    return strokes;
}

bool DrawnLines::hasPart(const Piece& stroke, const Piece& piece) const
{
    const double share = std::abs(piece.contrast) / std::abs(stroke.contrast);
    if (piece.region != stroke.region || share > mostStronger) return false;
    if (cv::norm(piece.centre - stroke.centre) > stroke.radius + (1 + tipUm) * ppu_) return false;  // what lies so far off is soon told
    const Shape s = shapeOf(stroke, ppu_);
    const cv::Point2d along = s.along, middle = cv::minAreaRect(stroke.outline).center;
    const double half = (s.shorter / 2 + 0.3) * ppu_ + 1, end = (s.longer / 2 + 1 + (share < fades ? tipUm : 0)) * ppu_;
    const auto within = std::count_if(piece.outline.begin(), piece.outline.end(), [&](const cv::Point2f& p) {
        const cv::Point2d d = cv::Point2d(p) - middle;
        return std::abs(d.dot(along)) < end && std::abs(along.cross(d)) < half;
    });
    return double(within) > leastWithin * double(piece.outline.size());
}

}  // namespace clendo::face
