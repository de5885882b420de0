#include "face/even/ferrule_light.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "face/even/robust_surface.h"

namespace clendo::face {
namespace {

constexpr int terms = 15;
constexpr double samplesWanted = 4000;
constexpr std::size_t samplesNeeded = 120;
constexpr int passes = 8;
constexpr double widest = 0.8, narrowest = 0.03;  // of the logarithm: what is farther off is dirt
constexpr float darkest = 1;                      // grey
using Surface = Eigen::Matrix<double, terms, 1>;

Surface basis(double x, double y)
{
    const double x2 = x * x, y2 = y * y;
    Surface b;
    b << 1, x, y, x2, x * y, y2, x2 * x, x2 * y, x * y2, y2 * y, x2 * x2, x2 * x * y, x2 * y2, x * y * y2, y2 * y2;
    return b;
}

}  // namespace

cv::Mat1f overFerruleLight(const cv::Mat1f& grey, cv::Point2d centre, double from, double to, const cv::Mat1b& seen)
{
    const auto asked = [&](int x, int y) {
        const double r2 = (x - centre.x) * (x - centre.x) + (y - centre.y) * (y - centre.y);
        return r2 > from * from && r2 < to * to && (seen.empty() || seen(y, x) == 255);
    };
    std::vector<Surface> at;
    std::vector<double> values;
    const int stride = std::max(1, static_cast<int>(std::ceil(std::sqrt(double(grey.total()) / samplesWanted) - 0.2)));
    for (int y = 0; y < grey.rows; y += stride)
        for (int x = 0; x < grey.cols; x += stride)
            if (asked(x, y)) {
                at.push_back(basis((x - centre.x) / to, (y - centre.y) / to));
                values.push_back(std::log(double(std::max(darkest, grey(y, x)))));
            }
    if (values.size() < samplesNeeded) return {};
    const Surface p = robustSurface<terms>(at, values, {widest, 0, narrowest, 1e-3, passes});
    cv::Mat1f even(grey.size(), 0.0F);
    // the surface is smooth: it is evaluated at every few pixels, and straight between them
    constexpr int step = 4;
    cv::Mat1f coarse((grey.rows + step - 1) / step + 1, (grey.cols + step - 1) / step + 1);
    for (int y = 0; y < coarse.rows; ++y)
        for (int x = 0; x < coarse.cols; ++x)
            coarse(y, x) = static_cast<float>(std::exp(std::clamp(basis((x * step - centre.x) / to, (y * step - centre.y) / to).dot(p), 0.0, 7.0)));
    for (int y = 0; y < grey.rows; ++y)
        for (int x = 0; x < grey.cols; ++x) {
            if (!asked(x, y)) continue;
            const int cx = x / step, cy = y / step;
            const float fx = static_cast<float>(x % step) / step, fy = static_cast<float>(y % step) / step;
            const float light =
                (coarse(cy, cx) * (1 - fx) + coarse(cy, cx + 1) * fx) * (1 - fy) + (coarse(cy + 1, cx) * (1 - fx) + coarse(cy + 1, cx + 1) * fx) * fy;
            even(y, x) = grey(y, x) / light;
        }
    return even;
}

}  // namespace clendo::face
