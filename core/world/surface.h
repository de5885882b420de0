#pragma once
#include <array>
#include <cstdint>
#include <opencv2/core.hpp>

#include "units/units.h"

namespace clendo::world {

/// How one ferrule was made and how one lens lights it: what a picture shows beside the fibre and the marks on it. The same seed gives the same one.
class Surface {
public:
    Surface(std::uint32_t seed, int width, int height, Scale scale);

    /// Grain of the ceramic and lines of its polish at a pixel, in parts of its light.
    [[nodiscard]] double ceramic(int x, int y) const { return double(ceramic_(y, x)); }
    /// The line of adhesive round the glass, in the direction of an angle: how wide, and what part of the light it takes.
    struct Line {
        Micrometre width;
        double takes;
    };
    static constexpr Micrometre widestLine{6};
    [[nodiscard]] Line adhesive(double angle) const;
    /// How even the light is, by the place from the fibre's middle: about 1.
    [[nodiscard]] double light(FacePoint at) const;

private:
    cv::Mat1f ceramic_;
    std::array<double, 4> waves_{}, phases_{};
    double lineWidth_, lineTakes_, gapFrom_, gapWide_;
    double tilt_, tiltTo_, falls_;
};

}  // namespace clendo::world
