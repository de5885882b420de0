#include "face/radial_profile.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace clendo::face {
namespace {

constexpr double binsPerPixel = 2;
constexpr std::size_t enough = 40;  // pixels for a median

double medianOf(std::vector<float>& values)
{
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return double(*middle);
}

}  // namespace

RadialProfile::RadialProfile(const cv::Mat1f& even, const Frame& frame) : frame_(frame)
{
    const auto bins = static_cast<std::size_t>(std::max(2.0, std::ceil((frame.outer - frame.inner) * binsPerPixel)) + 1);
    std::vector<std::vector<float>> values(bins);
    for (int y = 0; y < even.rows; ++y)
        for (int x = 0; x < even.cols; ++x) {
            if (even(y, x) <= 0) continue;
            const double bin = (distance(x, y) - frame.inner) * binsPerPixel;
            if (bin >= 0 && bin < double(bins)) values[static_cast<std::size_t>(bin)].push_back(even(y, x));
        }
    levels_.assign(bins, 1.0);
    for (std::size_t i = 0; i < bins; ++i) {
        std::vector<float> pool = values[i];  // near the middle and at the end a ring has few pixels: take its neighbours in
        for (std::size_t k = 1; pool.size() < enough && k < 4; ++k) {
            if (i >= k) pool.insert(pool.end(), values[i - k].begin(), values[i - k].end());
            if (i + k < bins) pool.insert(pool.end(), values[i + k].begin(), values[i + k].end());
        }
        if (!pool.empty())
            levels_[i] = medianOf(pool);
        else if (i > 0)
            levels_[i] = levels_[i - 1];
    }
}

double RadialProfile::distance(double x, double y) const
{
    const double dx = x - frame_.centre.x, dy = y - frame_.centre.y, r = std::hypot(dx, dy);
    if (frame_.shiftRadius <= 0) return r;
    const double part = std::clamp(2 - r / frame_.shiftRadius, 0.0, 1.0);
    return std::hypot(dx - part * frame_.shift.x, dy - part * frame_.shift.y);
}

double RadialProfile::level(double d) const
{
    const double bin = std::clamp((d - frame_.inner) * binsPerPixel - 0.5, 0.0, double(levels_.size() - 1) - 1e-6);
    const auto i = static_cast<std::size_t>(bin);
    const double t = bin - double(i);
    return levels_[i] * (1 - t) + levels_[std::min(i + 1, levels_.size() - 1)] * t;
}

double RadialProfile::slope(double d) const { return (level(d + 1) - level(d - 1)) / 2; }

std::pair<double, double> RadialProfile::at(double x, double y) const
{
    const double d = distance(x, y);
    return {level(d), slope(d)};
}

cv::Point2d RadialProfile::eccentricity(const cv::Mat1f& even, double from, double to, double most) const
{
    Eigen::Vector2d shift(0, 0);
    for (const double width : {0.3, 0.12, 0.06}) {
        Eigen::Matrix2d m = Eigen::Matrix2d::Identity() * 1e-9;
        Eigen::Vector2d v(0, 0);
        const int reach = static_cast<int>(to) + 2;
        for (int y = std::max(0, int(frame_.centre.y) - reach); y < std::min(even.rows, int(frame_.centre.y) + reach); ++y)
            for (int x = std::max(0, int(frame_.centre.x) - reach); x < std::min(even.cols, int(frame_.centre.x) + reach); ++x) {
                const double d = distance(x, y);
                if (d < std::max(from, 0.5) || d > to || even(y, x) <= 0) continue;
                const double dx = x - frame_.centre.x - frame_.shift.x, dy = y - frame_.centre.y - frame_.shift.y;
                const double s = slope(d);
                const Eigen::Vector2d row(-s * dx / d, -s * dy / d);
                const double miss = double(even(y, x)) - level(d) - row.dot(shift), u = miss / width;
                if (std::abs(u) >= 1) continue;
                const double weight = (1 - u * u) * (1 - u * u);
                m += weight * row * row.transpose();
                v += weight * (miss + row.dot(shift)) * row;
            }
        shift = m.ldlt().solve(v);
    }
    if (!shift.allFinite()) return {0, 0};
    const double length = shift.norm();
    if (length > most) shift *= most / length;
    return {shift[0], shift[1]};
}

}  // namespace clendo::face
