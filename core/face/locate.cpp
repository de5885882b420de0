#include "face/locate.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

namespace clendo::face {
namespace {

constexpr double smallestRadius = 62.5 / 1.0;  // px: 125 um at 1.0 um per pixel
constexpr double largestRadius = 62.5 / 0.18;
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

/// Votes for centres at one radius, on a canvas with a margin of `margin` around the picture.
cv::Mat1f votes(const Edges& edges, double radius, cv::Size canvas, int margin)
{
    cv::Mat1f sum(canvas, 0.0F);
    for (std::size_t i = 0; i < edges.at.size(); ++i)
        for (const double sign : {-1.0, 1.0}) {
            const int x = static_cast<int>(std::lround(edges.at[i].x + sign * radius * edges.direction[i].x)) + margin;
            const int y = static_cast<int>(std::lround(edges.at[i].y + sign * radius * edges.direction[i].y)) + margin;
            if (x >= 0 && y >= 0 && x < sum.cols && y < sum.rows) sum(y, x) += 1;
        }
    cv::GaussianBlur(sum, sum, {}, std::max(1.0, radius * 0.03));
    return sum;
}

std::vector<Circle> peaks(cv::Mat1f sum, double radius, int margin, int most)
{
    std::vector<Circle> out;
    const double spread = std::max(1.0, radius * 0.03);
    for (int i = 0; i < most; ++i) {
        double best = 0;
        cv::Point at;
        cv::minMaxLoc(sum, nullptr, &best, nullptr, &at);
        if (best <= 0) break;
        // a whole circle of edges two pixels wide, spread by the blur, would reach this
        const double whole = 2 * 2 * std::numbers::pi * radius / (2 * std::numbers::pi * spread * spread) * 0.5;
        out.push_back({double(at.x - margin), double(at.y - margin), radius, best / whole});
        cv::circle(sum, at, static_cast<int>(1.5 * radius), cv::Scalar(0), cv::FILLED);
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
    const double reduction = std::max(1.0, std::min(picture.rows, picture.cols) / workingShortSide);
    cv::Mat1b reduced;
    cv::resize(picture, reduced, {}, 1 / reduction, 1 / reduction, cv::INTER_AREA);
    if (reduced.rows < 16 || reduced.cols < 16) return {};
    const Edges edges = strongestEdges(reduced, 0.08);
    const double low = (radius ? *radius * 0.9 : smallestRadius) / reduction;
    const double high = std::min((radius ? *radius * 1.1 : largestRadius) / reduction, 0.8 * std::min(reduced.rows, reduced.cols));
    const int margin = static_cast<int>(std::min(high, 60.0));
    const cv::Size canvas(reduced.cols + 2 * margin, reduced.rows + 2 * margin);

    std::vector<std::vector<Circle>> byRadius;
    for (double r = low; r <= high * 1.0001; r *= 1.025) byRadius.push_back(peaks(votes(edges, r, canvas, margin), r, margin, most));
    if (byRadius.empty()) return {};
    const auto strongest =
        std::max_element(byRadius.begin(), byRadius.end(), [](const auto& a, const auto& b) { return supportOf(a) < supportOf(b); });
    std::vector<Circle> best = *strongest;
    // A multimode core is a circle too, at about half the cladding's radius and the same place: the outer one is the cladding.
    for (const auto& other : byRadius) {
        if (other.empty() || best.empty()) continue;
        const double ratio = other[0].radius / best[0].radius;
        const double apart = std::hypot(other[0].x - best[0].x, other[0].y - best[0].y);
        if (ratio > 1.75 && ratio < 2.8 && apart < 0.15 * best[0].radius && other[0].support > 0.35 * best[0].support) best = other;
    }
    for (auto& c : best) c = {(c.x + 0.5) * reduction - 0.5, (c.y + 0.5) * reduction - 0.5, c.radius * reduction, c.support};
    return best;
}

}  // namespace clendo::face
