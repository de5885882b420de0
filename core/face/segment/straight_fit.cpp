#include "face/segment/straight_fit.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

namespace clendo::face {

double cross(cv::Point2f a, cv::Point2f b) { return double(a.x) * double(b.y) - double(a.y) * double(b.x); }

double angleBetween(cv::Point2f a, cv::Point2f b) { return std::acos(std::min(1.0, std::abs(double(a.dot(b))))) * 180 / std::numbers::pi; }

Straight fitted(std::vector<cv::Point2f> points)
{
    Straight s;
    cv::Vec4f line;
    cv::fitLine(points, line, cv::DIST_L2, 0, 0.01, 0.01);
    s.along = {line[0], line[1]};
    const cv::Point2f origin(line[2], line[3]);
    double low = 1e9, high = -1e9;
    std::vector<double> across;
    across.reserve(points.size());
    for (const auto& p : points) {
        const double t = double((p - origin).dot(s.along));
        low = std::min(low, t);
        high = std::max(high, t);
        across.push_back(std::abs(cross(s.along, p - origin)));
    }
    std::nth_element(across.begin(), across.begin() + static_cast<std::ptrdiff_t>(across.size() / 2), across.end());
    s.length = high - low;
    s.width = 2 * across[across.size() / 2];
    s.middle = origin + s.along * static_cast<float>((low + high) / 2);
    s.points = std::move(points);
    return s;
}

}  // namespace clendo::face
