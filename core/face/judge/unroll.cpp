#include "face/judge/unroll.h"

#include <cmath>
#include <numbers>

namespace clendo::face {
namespace {

/// Brightness between the pixels; 0 outside.
double sample(const Picture& p, double x, double y)
{
    if (!(x >= 0 && y >= 0 && x <= p.width - 1 && y <= p.height - 1)) return 0;
    const int x0 = std::min(static_cast<int>(x), p.width - 2), y0 = std::min(static_cast<int>(y), p.height - 2);
    if (x0 < 0 || y0 < 0) return 0;
    const double u = x - x0, v = y - y0;
    const auto at = [&](int column, int row) {
        return double(p.pixels[static_cast<std::size_t>(row) * static_cast<std::size_t>(p.width) + static_cast<std::size_t>(column)]);
    };
    return (at(x0, y0) * (1 - u) + at(x0 + 1, y0) * u) * (1 - v) + (at(x0, y0 + 1) * (1 - u) + at(x0 + 1, y0 + 1) * u) * v;
}

}  // namespace

std::pair<double, double> UnrollFrame::at(const FacePoint& place) const
{
    const double turn = std::atan2(place.y.value(), place.x.value()) / (2 * std::numbers::pi) + turnDegrees / 360;
    return {(turn - std::floor(turn)) * width, place.radius().value() / reach.value() * height};
}

Picture unroll(const Picture& picture, const FaceMeasurement& face, const UnrollFrame& frame)
{
    if (!picture.sound() || frame.width <= 0 || frame.height <= 0 || !(face.claddingDiameter > Pixel(0))) return {};
    Picture out{frame.width, frame.height, std::vector<std::uint8_t>(static_cast<std::size_t>(frame.width) * static_cast<std::size_t>(frame.height))};
    std::size_t next = 0;
    for (int row = 0; row < frame.height; ++row) {
        const double r = (Micrometre(frame.reach.value() * (row + 0.5) / frame.height) / face.scale).value();
        for (int column = 0; column < frame.width; ++column) {
            const double angle = 2 * std::numbers::pi * ((column + 0.5) / frame.width - frame.turnDegrees / 360);
            out.pixels[next++] = static_cast<std::uint8_t>(
                std::lround(sample(picture, face.centre.x.value() + r * std::cos(angle), face.centre.y.value() + r * std::sin(angle))));
        }
    }
    return out;
}

}  // namespace clendo::face
