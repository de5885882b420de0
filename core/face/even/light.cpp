#include "face/even/light.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "face/even/robust_surface.h"

namespace clendo::face {
namespace {

constexpr int terms = 6;
constexpr double samplesWanted = 2500;
constexpr std::size_t samplesNeeded = 60;
using Surface = Eigen::Matrix<double, terms, 1>;

Surface basis(double x, double y)
{
    Surface b;
    b << 1, x, y, x * x, x * y, y * y;
    return b;
}

}  // namespace

Light::Light(const cv::Mat1f& grey, cv::Point2d centre, double from, double to) : centre_(centre), unit_(to)
{
    std::vector<Surface> at;
    std::vector<double> values;
    const int stride = std::max(1, static_cast<int>(std::ceil(std::sqrt(double(grey.total()) / samplesWanted) - 0.2)));
    for (int y = 0; y < grey.rows; y += stride)
        for (int x = 0; x < grey.cols; x += stride) {
            const double dx = x - centre.x, dy = y - centre.y, r2 = dx * dx + dy * dy;
            if (r2 <= from * from || r2 >= to * to) continue;
            at.push_back(basis(dx / unit_, dy / unit_));
            values.push_back(double(grey(y, x)));
        }
    if (values.size() < samplesNeeded) return;
    const Surface p = robustSurface<terms>(at, values, {4, 0.3, 2});
    std::copy(p.begin(), p.end(), terms_.begin());
}

cv::Mat1f Light::divide(const cv::Mat1f& grey, double from, double to) const
{
    cv::Mat1f even(grey.size(), 0.0F);
    const auto from2 = static_cast<float>(from * from), to2 = static_cast<float>(to * to);
    for (int y = 0; y < grey.rows; ++y) {
        const double v = (y - centre_.y) / unit_;
        const auto a = static_cast<float>(terms_[0] + terms_[2] * v + terms_[5] * v * v), b = static_cast<float>((terms_[1] + terms_[4] * v) / unit_),
                   c = static_cast<float>(terms_[3] / (unit_ * unit_));
        const auto dy2 = static_cast<float>((y - centre_.y) * (y - centre_.y)), x0 = static_cast<float>(centre_.x);
        const float* in = grey.ptr<float>(y);
        float* out = even.ptr<float>(y);
        for (int x = 0; x < grey.cols; ++x) {
            const float dx = static_cast<float>(x) - x0, r2 = dx * dx + dy2, expected = std::max(1.0F, a + dx * (b + dx * c));
            out[x] = r2 >= from2 && r2 < to2 ? in[x] / expected : 0.0F;
        }
    }
    return even;
}

}  // namespace clendo::face
