#include "face/find/circle_fit.h"

#include <cmath>

namespace clendo::face {

std::optional<Circle> circleThrough(const std::vector<cv::Point2f>& points)
{
    if (points.size() < 3) return std::nullopt;
    cv::Point2d middle(0, 0);
    for (const auto& p : points) middle += cv::Point2d(p) / double(points.size());
    // x² + y² = 2 a x + 2 b y + c
    cv::Matx33d m = cv::Matx33d::zeros();
    cv::Vec3d v(0, 0, 0);
    for (const auto& p : points) {
        const cv::Vec3d row(double(p.x) - middle.x, double(p.y) - middle.y, 1);
        m += row * row.t();
        v += row * (row[0] * row[0] + row[1] * row[1]);
    }
    bool solved = false;
    const cv::Matx33d inverse = m.inv(cv::DECOMP_CHOLESKY, &solved);
    if (!solved) return std::nullopt;
    const cv::Vec3d x = inverse * v;
    const double a = x[0] / 2, b = x[1] / 2;
    Circle out;
    out.x = middle.x + a;
    out.y = middle.y + b;
    out.radius = std::sqrt(std::max(0.0, x[2] + a * a + b * b));
    return out;
}

double offCircle(const std::vector<cv::Point2f>& points, const Circle& circle)
{
    double off = 0;
    for (const auto& p : points) off += std::pow(std::hypot(double(p.x) - circle.x, double(p.y) - circle.y) - circle.radius, 2);
    return points.empty() ? 0 : std::sqrt(off / double(points.size()));
}

}  // namespace clendo::face
