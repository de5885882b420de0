#include "face/find/locate.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <opencv2/imgproc.hpp>

#include "face/find/row.h"

namespace clendo::face {
namespace {

constexpr double smallestRadius = 62.5 / 1.0;  // px: 125 um at 1.0 um per pixel
constexpr double largestRadius = 62.5 / 0.18;
constexpr double smallestCore = 0.38, largestCore = 0.52;  // radius over the cladding's: 50 and 62.5 um of 125 um
constexpr int radiiLookedInto = 8;
constexpr std::size_t lookedCloser = 5;  // of every second radius
constexpr double radiusStep = 1.025;
constexpr double workingPixels = 100000;                // of a wide picture of many fibres
constexpr double farthestOutside = 30;                  // px of the reduced picture by which the middle of a fibre may lie beyond the frame
constexpr double leastOuter = 1.75, mostOuter = 5;      // radius of the cladding over that of what it is taken for
constexpr double middleOff = 0.15;                      // share of the inner radius
constexpr double aroundACore = 0.35, aroundDirt = 0.6;  // of the inner one's support
constexpr double workingShortSide = 240;                // px: enough for a vote, small enough to be quick

struct Edges {
    std::vector<cv::Point2f> at, direction;
};

/// The strongest gradients of a reduced picture. `share` of all pixels at most.
Edges strongestEdges(const cv::Mat1b& reduced, double share)
{
    cv::Mat1f smooth, gx, gy, magnitude;
    reduced.convertTo(smooth, CV_32F);
    cv::GaussianBlur(smooth, smooth, {}, 1.0);
    cv::Scharr(smooth, gx, CV_32F, 1, 0);
    cv::Scharr(smooth, gy, CV_32F, 0, 1);
    cv::magnitude(gx, gy, magnitude);
    std::vector<float> sorted(magnitude.begin(), magnitude.end());
    const auto nth = sorted.begin() + static_cast<std::ptrdiff_t>(static_cast<double>(sorted.size()) * (1 - share));
    std::nth_element(sorted.begin(), nth, sorted.end());
    const float threshold = std::max(*nth, 12.0F);
    Edges edges;
    for (int y = 1; y + 1 < reduced.rows; ++y)
        for (int x = 1; x + 1 < reduced.cols; ++x)
            if (const float m = magnitude(y, x); m > threshold) {
                edges.at.emplace_back(static_cast<float>(x), static_cast<float>(y));
                edges.direction.emplace_back(gx(y, x) / m, gy(y, x) / m);
            }
    return edges;
}

constexpr float bin = 2;  // px of the reduced picture per bin of votes: finer than the votes scatter

double spreadOf(double radius) { return std::max(1.0, radius * 0.03); }

/// Votes for centres at one radius, on a canvas of bins with a margin of `margin` pixels around the picture.
cv::Mat1f votes(const Edges& edges, double radius, cv::Size canvas, int margin)
{
    cv::Mat1f sum(canvas, 0.0F);
    const auto r = static_cast<float>(radius), m = static_cast<float>(margin) + 0.5F * bin;
    const auto columns = static_cast<float>(sum.cols), rows = static_cast<float>(sum.rows);
    for (std::size_t i = 0; i < edges.at.size(); ++i)
        for (const float reach : {-r, r}) {
            const float x = (edges.at[i].x + reach * edges.direction[i].x + m) / bin, y = (edges.at[i].y + reach * edges.direction[i].y + m) / bin;
            if (x >= 0 && y >= 0 && x < columns && y < rows) sum(static_cast<int>(y), static_cast<int>(x)) += 1;
        }
    const double spread = std::max(0.6, spreadOf(radius) / double(bin));
    const int side = 2 * static_cast<int>(std::ceil(2.2 * spread)) + 1;  // votes beyond it are few, and most of the time goes here
    cv::GaussianBlur(sum, sum, {side, side}, spread);
    return sum;
}

/// The highest places of a map of votes, the highest first, none within `apart` bins of a higher one.
std::vector<cv::Point> summits(const cv::Mat1f& sum, double apart, int most)
{
    if (most == 1) {
        cv::Point at;
        double best = 0;
        cv::minMaxLoc(sum, nullptr, &best, nullptr, &at);
        return best > 0 ? std::vector{at} : std::vector<cv::Point>{};
    }
    cv::Mat1f around;
    cv::dilate(sum, around, cv::Mat());
    std::vector<cv::Point> places, out;
    for (int y = 0; y < sum.rows; ++y) {
        const float *row = sum.ptr<float>(y), *highest = around.ptr<float>(y);
        for (int x = 0; x < sum.cols; ++x)
            if (row[x] > 0 && row[x] >= highest[x]) places.emplace_back(x, y);
    }
    std::sort(places.begin(), places.end(), [&](cv::Point a, cv::Point b) { return sum(a) > sum(b); });
    for (const auto& p : places) {
        if (std::ssize(out) == most) break;
        if (std::none_of(out.begin(), out.end(), [&](cv::Point q) { return cv::norm(p - q) < apart; })) out.push_back(p);
    }
    return out;
}

/// Votes that a whole circle of edges two pixels wide, spread by the blur, would reach.
double wholeCircle(double radius)
{
    const double spread = spreadOf(radius);
    return 2 * 2 * std::numbers::pi * radius / (2 * std::numbers::pi * spread * spread) * 0.5 * double(bin * bin);
}

std::vector<Circle> peaks(const cv::Mat1f& sum, double radius, int margin, int most)
{
    std::vector<Circle> out;
    const double whole = wholeCircle(radius);
    for (const auto& at : summits(sum, 1.5 * radius / double(bin), most))
        out.push_back({at.x * double(bin) - margin, at.y * double(bin) - margin, radius, double(sum(at)) / whole});
    return out;
}

/// The circles of one radius.
struct Candidate {
    double radius = 0;
    cv::Mat1f votes;
    std::vector<Circle> circles;
};

double supportOf(const std::vector<Circle>& circles)
{
    double sum = 0;
    for (const auto& c : circles) sum += c.support;
    return sum;
}

/// Support for circles of the candidate's radius right at the places of others.
double supportAt(const Candidate& candidate, const std::vector<Circle>& places, int margin)
{
    double sum = 0;
    for (const auto& c : places) {
        const int reach = 1 + static_cast<int>(middleOff * c.radius / double(bin));
        const cv::Point at(static_cast<int>((c.x + margin) / double(bin)), static_cast<int>((c.y + margin) / double(bin)));
        const cv::Rect near =
            cv::Rect(at.x - reach, at.y - reach, 2 * reach + 1, 2 * reach + 1) & cv::Rect(0, 0, candidate.votes.cols, candidate.votes.rows);
        double most = 0;
        if (!near.empty()) cv::minMaxLoc(candidate.votes(near), nullptr, &most);
        sum += most / wholeCircle(candidate.radius);
    }
    return sum;
}

/// A multimode core is a circle too, at a third to half of the cladding's radius and the same place, and so is a droplet on the glass: the outer one
/// is the cladding. Nothing where `found` has none around it.
const Candidate* claddingAround(const std::vector<Circle>& found, const std::vector<Candidate>& byRadius, int margin)
{
    const Candidate* outer = nullptr;
    double best = 0;
    for (const auto& candidate : byRadius) {
        if (found.empty() || candidate.circles.empty()) continue;
        const double ratio = candidate.radius / found[0].radius, all = supportOf(found);
        if (ratio < leastOuter || ratio > mostOuter) continue;
        double support = supportAt(candidate, found, margin) / all;
        if (support < aroundACore) {
            const Circle& c = candidate.circles[0];
            const bool encloses = found.size() == 1 && std::hypot(c.x - found[0].x, c.y - found[0].y) + found[0].radius < 1.15 * c.radius;
            support = encloses && c.support > aroundDirt * all ? c.support / all : 0;
        }
        if (support > best) {
            best = support;
            outer = &candidate;
        }
    }
    return outer;
}

/// Radii that are looked for, px of the picture.
struct Range {
    double low, high;
};

enum class LookFor { Claddings, Cores };

std::vector<Circle> circlesIn(const cv::Mat1b& picture, Range range, int most, LookFor lookFor)
{
    // by a whole factor: averaging over parts of pixels costs ten times as much
    const double reduction = std::max(
        1.0, std::round(std::max(std::min(picture.rows, picture.cols) / workingShortSide, std::sqrt(double(picture.total()) / workingPixels))));
    cv::Mat1b reduced;
    cv::resize(picture, reduced, {}, 1 / reduction, 1 / reduction, cv::INTER_AREA);
    if (reduced.rows < 16 || reduced.cols < 16) return {};
    const Edges edges = strongestEdges(reduced, 0.08);
    const double low = range.low / reduction, high = std::min(range.high / reduction, 0.8 * std::min(reduced.rows, reduced.cols));
    const int margin = static_cast<int>(std::min(high, farthestOutside));
    const cv::Size canvas((reduced.cols + 2 * margin) / int(bin) + 1, (reduced.rows + 2 * margin) / int(bin) + 1);

    const int radii = high >= low ? 1 + static_cast<int>(std::log(high * 1.0001 / low) / std::log(radiusStep)) : 0;
    if (radii == 0) return {};
    std::vector<Candidate> byRadius(static_cast<std::size_t>(radii));
    const auto support = [](const Candidate& c) { return supportOf(c.circles); };
    const auto vote = [&](std::size_t i) {
        const double r = low * std::pow(radiusStep, double(i));
        byRadius[i] = {r, votes(edges, r, canvas, margin), {}};
        byRadius[i].circles = peaks(byRadius[i].votes, r, margin, 1);
    };
    // every second radius shows where it is worth looking closer: a vote scatters wider than one step
    std::vector<std::size_t> strong;
    for (std::size_t i = 0; i < byRadius.size(); i += 2) {
        vote(i);
        strong.push_back(i);
    }
    std::sort(strong.begin(), strong.end(), [&](std::size_t a, std::size_t b) { return support(byRadius[a]) > support(byRadius[b]); });
    strong.resize(std::min(strong.size(), lookedCloser));
    for (const std::size_t i : strong)
        for (const std::size_t next : {i - 1, i + 1})
            if (next < byRadius.size() && byRadius[next].circles.empty()) vote(next);  // i - 1 of 0 is no place either
    std::erase_if(byRadius, [](const Candidate& c) { return c.radius <= 0; });
    if (most > 1) {  // looking for a whole row costs more: only at the radii that look best
        std::vector<double> firsts;
        firsts.reserve(byRadius.size());
        for (const auto& c : byRadius) firsts.push_back(support(c));
        std::nth_element(firsts.begin(), firsts.begin() + std::min<std::ptrdiff_t>(radiiLookedInto, std::ssize(firsts) - 1), firsts.end(),
                         std::greater<>());
        const double least = firsts[std::min<std::size_t>(radiiLookedInto, firsts.size() - 1)];
        for (auto& c : byRadius)
            if (support(c) >= least) c.circles = peaks(c.votes, c.radius, margin, most);
    }
    const auto strongest = std::max_element(byRadius.begin(), byRadius.end(), [&](const auto& x, const auto& y) { return support(x) < support(y); });
    std::vector<Circle> best = strongest->circles;
    const auto outer = lookFor == LookFor::Claddings ? claddingAround(best, byRadius, margin) : nullptr;
    if (outer) best = most > 1 ? peaks(outer->votes, outer->radius, margin, most) : outer->circles;
    const auto byPitch = radiusByPitch(best);
    if (lookFor == LookFor::Cores && !byPitch) return {};
    if (byPitch)
        for (auto& c : best) c.radius = *byPitch;
    for (auto& c : best) c = {(c.x + 0.5) * reduction - 0.5, (c.y + 0.5) * reduction - 0.5, c.radius * reduction, c.support};
    return best;
}

}  // namespace

std::vector<Circle> locate(const cv::Mat1b& picture, std::optional<double> radius, int most)
{
    return circlesIn(picture, radius ? Range{*radius * 0.9, *radius * 1.1} : Range{smallestRadius, largestRadius}, most, LookFor::Claddings);
}

std::vector<Circle> locateByCores(const cv::Mat1b& picture, int most)
{
    return circlesIn(picture, {smallestRadius * smallestCore, largestRadius * largestCore}, most, LookFor::Cores);
}

}  // namespace clendo::face
