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
    std::vector<float> between(static_cast<std::size_t>(coarse.cols)), light(static_cast<std::size_t>(coarse.cols) * step);
    for (int y = 0; y < grey.rows; ++y) {
        const float *above = coarse.ptr<float>(y / step), *below = coarse.ptr<float>(y / step + 1), fy = static_cast<float>(y % step) / step;
        for (std::size_t x = 0; x < between.size(); ++x) between[x] = above[x] * (1 - fy) + below[x] * fy;
        for (std::size_t x = 0; x + 1 < between.size(); ++x)
            for (int k = 0; k < step; ++k)
                light[x * step + static_cast<std::size_t>(k)] = between[x] + (between[x + 1] - between[x]) * static_cast<float>(k) / step;
        const float* in = grey.ptr<float>(y);
        float* out = even.ptr<float>(y);
        for (int x = 0; x < grey.cols; ++x)
            if (asked(x, y)) out[x] = in[x] / light[static_cast<std::size_t>(x)];
    }
    return even;
}

}  // namespace clendo::face
