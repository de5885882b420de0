#include "lens.h"

#include <opencv2/imgproc.hpp>

namespace clendo::drawn {

cv::Mat1f Lens::spread(double step) const
{
    constexpr int n = 256;
    // frequencies of a grid of n points with this step; the pupil's edge lies at aperture / wavelength
    cv::Mat2f pupil(n, n, cv::Vec2f(0, 0));
    for (int y = 0; y < n; ++y)
        for (int x = 0; x < n; ++x) {
            const double fx = ((x + n / 2) % n - n / 2) / (n * step), fy = ((y + n / 2) % n - n / 2) / (n * step);
            const double u = fx * wavelength / aperture, v = fy * wavelength / aperture, r = std::hypot(u, v);
            if (r > 1) continue;
            const double along = u * std::cos(turn) + v * std::sin(turn);
            const double waves = defocus * (2 * r * r - 1) + astigmatism * (2 * along * along - r * r) + coma * (3 * r * r - 2) * along;
            pupil(y, x) = {static_cast<float>(std::cos(2 * CV_PI * waves)), static_cast<float>(std::sin(2 * CV_PI * waves))};
        }
    cv::idft(pupil, pupil);
    const int half = std::min(n / 2 - 1, static_cast<int>(5 / step));
    cv::Mat1f out(2 * half + 1, 2 * half + 1);
    for (int y = -half; y <= half; ++y)
        for (int x = -half; x <= half; ++x) {
            const cv::Vec2f a = pupil((y + n) % n, (x + n) % n);
            out(y + half, x + half) = a[0] * a[0] + a[1] * a[1];
        }
    out /= cv::sum(out)[0];
    return out;
}

double Lens::width(double step) const
{
    const cv::Mat1f s = spread(step);
    double top = 0;
    cv::minMaxLoc(s, nullptr, &top);
    const int above = cv::countNonZero(s > top / 2);
    return 2 * std::sqrt(above * step * step / CV_PI);
}

void Lens::blur(cv::Mat1f& light, double step) const
{
    cv::Mat1f sharp;
    cv::filter2D(light, sharp, CV_32F, spread(step), {-1, -1}, 0, cv::BORDER_REPLICATE);
    cv::Mat1f wide;
    cv::resize(light, wide, {}, 0.25, 0.25, cv::INTER_AREA);
    cv::GaussianBlur(wide, wide, {}, strayReach / step / 4, 0, cv::BORDER_REPLICATE);
    cv::resize(wide, wide, light.size(), 0, 0, cv::INTER_LINEAR);
    cv::addWeighted(sharp, 1 - stray, wide, stray, 0, light);
}

Lens someLens(Dice& dice)
{
    Lens lens;
    lens.aperture = dice.between(0.4, 0.62);
    lens.wavelength = dice.between(0.52, 0.65);
    lens.defocus = dice.normal(0.12);
    lens.astigmatism = dice.normal(0.06);
    lens.coma = dice.normal(0.06);
    lens.turn = dice.angle();
    lens.stray = dice.between(0.01, 0.09);
    lens.strayReach = dice.between(3, 9);
    return lens;
}

}  // namespace clendo::drawn
