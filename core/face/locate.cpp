#include "face/locate.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <opencv2/imgproc.hpp>

namespace clendo::face {
namespace {

constexpr double smallestRadius = 62.5 / 1.0;  // px: 125 um at 1.0 um per pixel
constexpr double largestRadius = 62.5 / 0.18;
constexpr int radiiLookedInto = 8;
constexpr double radiusStep = 1.025;
constexpr double workingPixels = 140000;  // of a wide picture of many fibres
constexpr double workingShortSide = 240;  // px: enough for a vote, small enough to be quick

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
    cv::GaussianBlur(sum, sum, {}, std::max(0.6, spreadOf(radius) / double(bin)));
    return sum;
}

std::vector<Circle> peaks(const cv::Mat1f& votesAtRadius, double radius, int margin, int most)
{
    cv::Mat1f sum = most > 1 ? votesAtRadius.clone() : votesAtRadius;  // found peaks are painted over
    std::vector<Circle> out;
    const double spread = spreadOf(radius);
    for (int i = 0; i < most; ++i) {
        double best = 0;
        cv::Point at;
        cv::minMaxLoc(sum, nullptr, &best, nullptr, &at);
        if (best <= 0) break;
        // a whole circle of edges two pixels wide, spread by the blur, would reach this
        const double whole = 2 * 2 * std::numbers::pi * radius / (2 * std::numbers::pi * spread * spread) * 0.5 * double(bin * bin);
        out.push_back({at.x * double(bin) - margin, at.y * double(bin) - margin, radius, best / whole});
        if (i + 1 < most) cv::circle(sum, at, static_cast<int>(1.5 * radius / double(bin)), cv::Scalar(0), cv::FILLED);
    }
    return out;
}

double supportOf(const std::vector<Circle>& circles)
{
    double sum = 0;
    for (const auto& c : circles) sum += c.support;
    return sum;
}

}  // namespace

std::vector<Circle> locate(const cv::Mat1b& picture, std::optional<double> radius, int most)
{
    const double reduction =
        std::max({1.0, std::min(picture.rows, picture.cols) / workingShortSide, std::sqrt(double(picture.total()) / workingPixels)});
    cv::Mat1b reduced;
    cv::resize(picture, reduced, {}, 1 / reduction, 1 / reduction, cv::INTER_AREA);
    if (reduced.rows < 16 || reduced.cols < 16) return {};
    const Edges edges = strongestEdges(reduced, 0.08);
    const double low = (radius ? *radius * 0.9 : smallestRadius) / reduction;
    const double high = std::min((radius ? *radius * 1.1 : largestRadius) / reduction, 0.8 * std::min(reduced.rows, reduced.cols));
    const int margin = static_cast<int>(std::min(high, 60.0));
    const cv::Size canvas((reduced.cols + 2 * margin) / int(bin) + 1, (reduced.rows + 2 * margin) / int(bin) + 1);

    struct Candidate {
        double radius;
        cv::Mat1f votes;
        std::vector<Circle> circles;
    };
    std::vector<Candidate> byRadius;
    const int radii = high >= low ? 1 + static_cast<int>(std::log(high * 1.0001 / low) / std::log(radiusStep)) : 0;
    for (int i = 0; i < radii; ++i) {
        const double r = low * std::pow(radiusStep, i);
        byRadius.push_back({r, votes(edges, r, canvas, margin), {}});
        byRadius.back().circles = peaks(byRadius.back().votes, r, margin, 1);
    }
    if (byRadius.empty()) return {};
    const auto support = [](const Candidate& c) { return supportOf(c.circles); };
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
    // A multimode core is a circle too, at about half the cladding's radius and the same place: the outer one is the cladding.
    for (const auto& candidate : byRadius) {
        const auto& other = candidate.circles;
        if (other.empty() || best.empty()) continue;
        const double ratio = other[0].radius / best[0].radius;
        const double apart = std::hypot(other[0].x - best[0].x, other[0].y - best[0].y);
        if (ratio > 1.75 && ratio < 2.8 && apart < 0.15 * best[0].radius && other[0].support > 0.35 * best[0].support)
            best = most > 1 ? peaks(candidate.votes, candidate.radius, margin, most) : other;
    }
    for (auto& c : best) c = {(c.x + 0.5) * reduction - 0.5, (c.y + 0.5) * reduction - 0.5, c.radius * reduction, c.support};
    return best;
}

}  // namespace clendo::face
