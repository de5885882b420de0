#include "face/find/ray_edges.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

#include "face/median.h"

namespace clendo::face {
namespace {

constexpr double leastChange = 0.3;                              // grey levels a sample
constexpr double smoothShare = 0.006, leastSmooth = 1.5;         // of the radius; samples
constexpr double toleranceShare = 0.008, leastTolerance = 0.75;  // of the radius by which a ray may lie off the circle; px

struct Direction {
    float x, y;
};

const std::array<Direction, RayEdges::most>& directions()
{
    static const auto all = [] {
        std::array<Direction, RayEdges::most> d{};
        for (int a = 0; a < RayEdges::most; ++a) {
            const double angle = 2 * std::numbers::pi * a / RayEdges::most;
            d[static_cast<std::size_t>(a)] = {static_cast<float>(std::cos(angle)), static_cast<float>(std::sin(angle))};
        }
        return d;
    }();
    return all;
}

/// Of ray `ray` of so many.
Direction direction(int ray, int count) { return directions()[static_cast<std::size_t>(ray) * static_cast<std::size_t>(RayEdges::most / count)]; }

/// The level between four pixels, all of which the picture has; its rows lie `stride` apart.
float between(const float* first, std::ptrdiff_t stride, float x, float y)
{
    const int column = static_cast<int>(x), line = static_cast<int>(y);
    const float u = x - static_cast<float>(column), v = y - static_cast<float>(line);
    const float *upper = first + line * stride + column, *lower = upper + stride;
    const float above = upper[0] + u * (upper[1] - upper[0]), below = lower[0] + u * (lower[1] - lower[0]);
    return above + v * (below - above);
}

}  // namespace

RayEdges::RayEdges(const cv::Mat1f& grey, const Circle& circle, double from, double to, int count) : from_(from), radius_(circle.radius)
{
    const int columns = std::max(8, static_cast<int>((to - from) / step));
    unrolled_.create(count, columns);
    const auto* first = grey.ptr<float>();
    const auto stride = static_cast<std::ptrdiff_t>(grey.step1());
    for (int a = 0; a < count; ++a) {
        const auto [dx, dy] = direction(a, count);
        const float x = static_cast<float>(circle.x) + static_cast<float>(from) * dx,
                    y = static_cast<float>(circle.y) + static_cast<float>(from) * dy;
        const float perX = static_cast<float>(step) * dx, perY = static_cast<float>(step) * dy;
        float* row = unrolled_.ptr<float>(a);
        // a ray whose ends lie in the picture lies in it: then no sample has to be asked
        const auto seen = [&](int i) {
            const float px = x + static_cast<float>(i) * perX, py = y + static_cast<float>(i) * perY;
            return px >= 0 && py >= 0 && px < static_cast<float>(grey.cols - 1) && py < static_cast<float>(grey.rows - 1);
        };
        const bool all = seen(0) && seen(columns - 1);
        const auto level = [&](int i) { return between(first, stride, x + static_cast<float>(i) * perX, y + static_cast<float>(i) * perY); };
        if (all)
            for (int i = 0; i < columns; ++i) row[i] = level(i);
        else
            for (int i = 0; i < columns; ++i) row[i] = seen(i) ? level(i) : -1;
    }
}

std::vector<double> RayEdges::profile() const
{
    std::vector<double> out(static_cast<std::size_t>(unrolled_.cols));
    cv::Mat1f circles;  // a row each
    cv::transpose(unrolled_, circles);
    std::vector<float> seen(static_cast<std::size_t>(circles.cols));
    for (int i = 0; i < circles.rows; ++i) {
        const float* levels = circles.ptr<float>(i);
        const auto end = std::copy_if(levels, levels + circles.cols, seen.begin(), [](float level) { return level >= 0; });
        if (end == seen.begin()) continue;
        out[static_cast<std::size_t>(i)] = double(medianOf(std::span(seen.begin(), end)));
    }
    return out;
}

const cv::Mat1f& RayEdges::slope() const
{
    if (slope_.empty()) {
        cv::Mat1f smooth;
        const double along = std::max(leastSmooth, radius_ * smoothShare / step);
        cv::GaussianBlur(unrolled_, smooth, {}, along, std::max(0.5, 2.0 * unrolled_.rows / most), cv::BORDER_REPLICATE);
        cv::Sobel(smooth, slope_, CV_32F, 1, 0, 1);
    }
    return slope_;
}

std::vector<double> RayEdges::steepest(double sign) const
{
    std::vector<double> out(static_cast<std::size_t>(unrolled_.rows), std::nan(""));
    const auto s = static_cast<float>(sign);
    for (int a = 0; a < unrolled_.rows; ++a) {
        const float *row = slope().ptr<float>(a), *levels = unrolled_.ptr<float>(a);
        int best = -1;
        for (int i = 2; i + 2 < unrolled_.cols; ++i)
            if ((best < 0 || s * row[i] > s * row[best]) && within(levels, i)) best = i;
        if (best < 0 || sign * double(row[best]) < leastChange) continue;
        const double l = row[best - 1], m = row[best], r = row[best + 1], bend = l - 2 * m + r;
        const double shift = std::abs(bend) > 1e-9 ? std::clamp(0.5 * (l - r) / bend, -1.0, 1.0) : 0.0;
        out[static_cast<std::size_t>(a)] = from_ + (best + shift) * step;
    }
    return out;
}

std::vector<double> RayEdges::first(double sign, double share, double to) const
{
    const int end = std::min(unrolled_.cols, static_cast<int>((to - from_) / step)) - 2;
    const auto s = static_cast<float>(sign);
    std::vector<double> changes;
    for (int a = 0; a < unrolled_.rows; ++a) {
        const float *row = slope().ptr<float>(a), *levels = unrolled_.ptr<float>(a);
        float highest = 0;
        for (int i = 2; i < end; ++i)
            if (s * row[i] > highest && within(levels, i)) highest = s * row[i];
        changes.push_back(double(highest));
    }
    const auto least = static_cast<float>(std::max(leastChange, share * medianOf(std::span(changes))));
    std::vector<double> out(static_cast<std::size_t>(unrolled_.rows), std::nan(""));
    for (int a = 0; a < unrolled_.rows; ++a) {
        const float *row = slope().ptr<float>(a), *levels = unrolled_.ptr<float>(a);
        for (int i = 2; i < end; ++i) {
            const float here = s * row[i];
            if (here < least || here < s * row[i - 1] || here < s * row[i + 1] || !within(levels, i)) continue;
            out[static_cast<std::size_t>(a)] = from_ + i * step;
            break;
        }
    }
    return out;
}

double RayEdges::fitCircle(const std::vector<double>& places, Circle& circle)
{
    const double tolerance = std::max(leastTolerance, circle.radius * toleranceShare);
    const int angles = static_cast<int>(places.size());
    Eigen::Vector3d p(0, 0, 0);
    std::vector<double> known;
    for (const double h : places)
        if (!std::isnan(h)) known.push_back(h);
    if (known.size() < places.size() / 4) return 0;
    p[2] = medianOf(std::span(known));
    int agreeing = 0;
    for (int pass = 0; pass < 8; ++pass) {
        const double width = std::max(tolerance, tolerance * (8 - pass));
        Eigen::Matrix3d m = Eigen::Matrix3d::Zero();
        Eigen::Vector3d v = Eigen::Vector3d::Zero();
        agreeing = 0;
        for (int a = 0; a < angles; ++a) {
            const double h = places[static_cast<std::size_t>(a)];
            if (std::isnan(h)) continue;
            const auto [x, y] = direction(a, angles);
            const Eigen::Vector3d row(double(x), double(y), 1);
            const double u = (h - row.dot(p)) / width;
            if (std::abs(u) >= 1) continue;
            const double weight = (1 - u * u) * (1 - u * u);
            m += weight * row * row.transpose();
            v += weight * h * row;
            ++agreeing;
        }
        if (agreeing < angles / 8) return 0;
        p = m.ldlt().solve(v);
    }
    circle.x += p[0];
    circle.y += p[1];
    circle.radius = p[2];
    return double(agreeing) / angles;
}

}  // namespace clendo::face
