#include "world/surface.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <random>

#include "world/marks.h"

namespace clendo::world {
namespace {

constexpr double fullCircle = 2 * std::numbers::pi;

/// Noise of one grain size, of standard deviation 1.
cv::Mat1f grain(std::mt19937& random, int width, int height, double sigmaPx)
{
    cv::Mat1f out(height, width);
    std::normal_distribution<float> normal(0, 1);
    for (auto& g : out) g = normal(random);
    cv::GaussianBlur(out, out, {}, std::max(0.3, sigmaPx));
    cv::Scalar mean, deviation;
    cv::meanStdDev(out, mean, deviation);
    out /= std::max(1e-6, deviation[0]);
    return out;
}

}  // namespace

Surface::Surface(std::uint32_t seed, int width, int height, Scale scale)
{
    std::mt19937 random(seed * 2246822519U + 29);
    const double umPerPx = scale.micrometresPerPixel();
    const double fine = uniform(random, 0.5, 0.9), coarse = uniform(random, 1.8, 3.2);
    ceramic_ = grain(random, width, height, fine / umPerPx) * uniform(random, 0.035, 0.075) +
               grain(random, width, height, coarse / umPerPx) * uniform(random, 0.015, 0.04);
    // the film turns under the ferrule: fine lines in a few directions, some of them only part of the way
    cv::Mat1f lines(height, width, 0.0F);
    const int directions = 1 + static_cast<int>(uniform(random, 0, 2.99)), count = static_cast<int>(uniform(random, 25, 70));
    std::array<double, 3> angles{};
    for (double& a : angles) a = uniform(random, 0, fullCircle);
    const double reach = std::hypot(width, height);
    for (int i = 0; i < count; ++i) {
        const double angle = angles[static_cast<std::size_t>(i % directions)] + uniform(random, -0.12, 0.12);
        const cv::Point2d along(std::cos(angle), std::sin(angle)), middle(uniform(random, 0, width), uniform(random, 0, height));
        const double half = uniform(random, 0.1, 0.8) * reach;
        const auto fixed = [](cv::Point2d p) {
            return cv::Point(static_cast<int>(p.x * 16), static_cast<int>(p.y * 16));
        };  // 4 bits behind the point
        cv::line(lines, fixed(middle - along * half), fixed(middle + along * half), cv::Scalar(uniform(random, -0.06, 0.05)), 1, cv::LINE_AA, 4);
    }
    cv::GaussianBlur(lines, lines, {}, std::max(0.3, 0.35 / umPerPx));
    ceramic_ += lines;
    for (std::size_t k = 0; k < waves_.size(); ++k) {
        waves_[k] = uniform(random, 0, 0.35 / double(k + 1));
        phases_[k] = uniform(random, 0, fullCircle);
    }
    lineWidth_ = uniform(random, 0.5, 2.2);
    lineTakes_ = uniform(random, 0.35, 0.8);
    gapFrom_ = uniform(random, 0, fullCircle);
    gapWide_ = uniform(random, 0, 1) < 0.35 ? uniform(random, 0.2, 0.9) : 0;
    tilt_ = uniform(random, 0.0002, 0.0009);
    tiltTo_ = uniform(random, 0, fullCircle);
    falls_ = uniform(random, 1e-6, 5e-6);
}

Surface::Line Surface::adhesive(double angle) const
{
    double wave = 1;
    for (std::size_t k = 0; k < waves_.size(); ++k) wave += waves_[k] * std::sin(double(k + 1) * angle + phases_[k]);
    const double away = std::abs(std::remainder(angle - gapFrom_, fullCircle));
    const double there = gapWide_ > 0 ? std::clamp((away - gapWide_ / 2) / 0.15, 0.25, 1.0) : 1.0;  // thin, never quite gone
    return {Micrometre(std::clamp(lineWidth_ * wave, 0.3, widestLine.value())), lineTakes_ * there * std::clamp(0.7 + 0.3 * wave, 0.5, 1.1)};
}

double Surface::light(FacePoint at) const
{
    const double x = at.x.value(), y = at.y.value();
    return 1 + tilt_ * (x * std::cos(tiltTo_) + y * std::sin(tiltTo_)) - falls_ * (x * x + y * y);
}

}  // namespace clendo::world
