#include "face/segment/straight.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <optional>

#include "face/segment/straight_fit.h"

namespace clendo::face {
namespace {

constexpr double quarter = 0.25;         // px from one point of an outline to the next
constexpr std::size_t mostPoints = 300;  // asked: more do not make a line straighter
constexpr int trials = 80;
constexpr std::size_t mostStrokes = 6;  // that hang together
constexpr double leastLengthUm = 4, gapUm = 2, slackUm = 0.35, widestUm = 7;
constexpr double crossingLengthUm = 6;  // shorter arms are corners of dirt
constexpr double mostFilled = 0.35;     // of its circle by strokes that cross: more is a blob
constexpr double leastSlender = 3;      // length over width
constexpr double mostLeftOver = 0.2;    // share of the outline that no stroke explains
constexpr double leastCrossing = 20;    // degrees: below it a bend is one bent thing, not two strokes
constexpr double besideShare = 0.4;     // of the shorter of two strokes that runs beside the longer, and of that where both are seen apart
constexpr double sideUm = 0.4;          // between two sides of what is seen apart

/// The longest run of points along a line without a gap, of those within `reach` of it.
std::vector<cv::Point2f> longestRun(const std::vector<cv::Point2f>& points, cv::Point2f origin, cv::Point2f along, double reach, double gap)
{
    std::vector<std::pair<double, cv::Point2f>> on;
    for (const auto& p : points)
        if (std::abs(cross(along, p - origin)) <= reach) on.emplace_back(double((p - origin).dot(along)), p);
    std::sort(on.begin(), on.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    std::size_t bestFrom = 0, bestTo = 0, from = 0;
    for (std::size_t i = 1; i <= on.size(); ++i)
        if (i == on.size() || on[i].first - on[i - 1].first > gap) {
            if (on[i - 1].first - on[from].first > (bestTo > bestFrom ? on[bestTo - 1].first - on[bestFrom].first : -1)) bestFrom = from, bestTo = i;
            from = i;
        }
    std::vector<cv::Point2f> run;
    for (std::size_t i = bestFrom; i < bestTo; ++i) run.push_back(on[i].second);
    return run;
}

/// How far from the axis of a stroke its outline may lie.
double reachOf(double width, double ppu) { return 0.75 * width + slackUm * ppu; }

/// The straight stroke that explains most of the points (random sample consensus, always with the same random numbers).
std::optional<Straight> strongest(const std::vector<cv::Point2f>& points, double width, double gap, double ppu)
{
    cv::RNG random(7);
    const double reach = reachOf(width, ppu);
    std::vector<cv::Point2f> best;
    const int n = static_cast<int>(points.size());
    for (int i = 0; i < trials; ++i) {
        const cv::Point2f a = points[static_cast<std::size_t>(random.uniform(0, n))], b = points[static_cast<std::size_t>(random.uniform(0, n))];
        const double apart = cv::norm(a - b);
        if (apart < leastLengthUm * ppu) continue;
        const cv::Point2f along = (b - a) / static_cast<float>(apart);
        const auto on = std::count_if(points.begin(), points.end(), [&](const cv::Point2f& p) { return std::abs(cross(along, p - a)) <= reach; });
        if (static_cast<std::size_t>(on) <= best.size()) continue;
        auto run = longestRun(points, a, along, reach, gap);
        if (run.size() > best.size()) best = std::move(run);
    }
    if (best.size() < 12) return std::nullopt;
    const Straight first = fitted(best);
    best = longestRun(points, first.middle, first.along, reach, gap);
    if (best.size() < 12) return std::nullopt;
    const Straight s = fitted(std::move(best));
    if (s.length < std::max(leastLengthUm * ppu, leastSlender * s.width) || s.width > widestUm * ppu) return std::nullopt;
    return s;
}

/// Whether both sides of a stroke are seen at this distance from where it crosses another.
bool hasArm(const std::vector<cv::Point2f>& outline, cv::Point2f from, cv::Point2f along, double distance, double reach, double ppu)
{
    bool left = false, right = false;
    for (const auto& p : outline) {
        const double across = cross(along, p - from);
        if (std::abs(double((p - from).dot(along)) - distance) > ppu || std::abs(across) > reach) continue;
        (across > 0 ? left : right) = true;
    }
    return left && right;
}

/// Where the lines of two strokes meet.
cv::Point2f meeting(const Straight& a, const Straight& b)
{
    return a.middle + a.along * static_cast<float>(cross(b.middle - a.middle, b.along) / cross(a.along, b.along));
}

/// Two strokes cross where at least three arms leave that place; a bent thing has two. Asked where the arms are clear of each other.
bool crosses(const std::vector<cv::Point2f>& outline, const Straight& a, const Straight& b, double ppu)
{
    const double angle = angleBetween(a.along, b.along);
    if (angle < leastCrossing) return false;
    const cv::Point2f at = meeting(a, b);
    const double reachA = reachOf(a.width, ppu), reachB = reachOf(b.width, ppu);
    const double clear = (reachA + reachB) / std::sin(angle * std::numbers::pi / 180) + ppu;
    int arms = 0;
    for (const float sign : {-1.0F, 1.0F}) {
        arms += hasArm(outline, at, sign * a.along, clear, reachA, ppu) ? 1 : 0;
        arms += hasArm(outline, at, sign * b.along, clear, reachB, ppu) ? 1 : 0;
    }
    return arms >= 3;
}

/// Places along a line, a micrometre apart, where the outline is met at least four times: two strokes with a gap between them.
int placesWithGap(const std::vector<cv::Point2f>& outline, const Straight& line, double from, double to, double ppu)
{
    std::vector<std::vector<double>> met(static_cast<std::size_t>(std::max(0.0, (to - from) / ppu)) + 1);
    for (const auto& p : outline) {
        const double along = (double((p - line.middle).dot(line.along)) - from) / ppu;
        if (along >= 0 && along < double(met.size()) && along - std::floor(along) < 0.5)
            met[static_cast<std::size_t>(along)].push_back(cross(line.along, p - line.middle));
    }
    int places = 0;
    for (auto& across : met) {
        std::sort(across.begin(), across.end());
        int sides = across.empty() ? 0 : 1;
        for (std::size_t i = 1; i < across.size(); ++i) sides += across[i] - across[i - 1] > sideUm * ppu ? 1 : 0;
        places += sides >= 4 ? 1 : 0;
    }
    return places;
}

/// Two strokes that run side by side, or cross at so small an angle: lint that bends goes on where it bent, and does not come back along itself.
bool runsBeside(const std::vector<cv::Point2f>& outline, const Straight& a, const Straight& b, double ppu)
{
    if (angleBetween(a.along, b.along) >= leastCrossing) return false;
    const double other = double((b.middle - a.middle).dot(a.along));
    const double from = std::max(-a.length / 2, other - b.length / 2), to = std::min(a.length / 2, other + b.length / 2);
    if (to - from < besideShare * std::min(a.length, b.length)) return false;
    return placesWithGap(outline, a, from, to, ppu) > besideShare * (to - from) / ppu;
}

/// Two strokes that meet and do not cross: one bent thing.
bool bends(const std::vector<cv::Point2f>& outline, const Straight& a, const Straight& b, double ppu)
{
    if (angleBetween(a.along, b.along) < leastCrossing) return false;
    const cv::Point2f at = meeting(a, b);
    const auto reaches = [&](const Straight& s) { return std::abs(double((at - s.middle).dot(s.along))) < s.length / 2; };
    return reaches(a) && reaches(b) && !crosses(outline, a, b, ppu);
}

Piece pieceOf(const Piece& whole, const Straight& s)
{
    Piece p = whole;
    p.outline = s.points;
    p.area = s.length * s.width;
    p.hollow = false;
    p.stroke = true;
    p.enclose();
    return p;
}

}  // namespace

std::vector<Piece> splitStrokes(Piece piece, double ppu)
{
    const double width = 2 * piece.area / std::max(1.0, quarter * double(piece.outline.size()));
    const double filled = piece.area / (std::numbers::pi * piece.radius * piece.radius + 1e-9);
    if (2 * piece.radius < std::max(crossingLengthUm * ppu, leastSlender * width) || width > widestUm * ppu || filled > mostFilled)
        return {std::move(piece)};
    std::vector<cv::Point2f> left;
    const std::size_t step = std::max<std::size_t>(1, piece.outline.size() / mostPoints);
    for (std::size_t i = 0; i < piece.outline.size(); i += step) left.push_back(piece.outline[i]);
    const double all = double(left.size());
    std::vector<Straight> found;
    while (found.size() < mostStrokes && double(left.size()) > 0.1 * all) {
        // the strokes found before have taken their share of the crossing: there the next one has a gap
        const double gap = gapUm * ppu + 1 + (found.empty() ? 0 : 2 * reachOf(width, ppu) / std::sin(leastCrossing * std::numbers::pi / 180));
        const auto next = strongest(left, width, gap, ppu);
        if (!next) break;
        if (next->length < crossingLengthUm * ppu) return {std::move(piece)};
        const bool belongs = found.empty() || std::any_of(found.begin(), found.end(), [&](const Straight& other) {
                                 return crosses(piece.outline, *next, other, ppu) || runsBeside(piece.outline, *next, other, ppu);
                             });
        if (!belongs) return {std::move(piece)};
        const double reach = reachOf(width, ppu);
        std::erase_if(left, [&](const cv::Point2f& p) {
            return std::abs(cross(next->along, p - next->middle)) <= reach &&
                   std::abs(double((p - next->middle).dot(next->along))) <= next->length / 2 + reach;
        });
        found.push_back(*next);
    }
    if (found.size() < 2 || double(left.size()) > mostLeftOver * all) return {std::move(piece)};
    for (std::size_t i = 0; i < found.size(); ++i)
        for (std::size_t k = i + 1; k < found.size(); ++k)
            if (bends(piece.outline, found[i], found[k], ppu)) return {std::move(piece)};
    std::vector<Piece> out;
    out.reserve(found.size());
    for (const auto& s : found) out.push_back(pieceOf(piece, s));
    return out;
}

}  // namespace clendo::face
