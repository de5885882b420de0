#pragma once
#include <opencv2/core.hpp>
#include <optional>
#include <vector>

namespace clendo::face {

/// What shows at a place of a map.
struct Spot {
    cv::Point2d at;
    double strength = 0;
};

/// A line along an arc that hardly bends, and how far it reaches aside. Pixels.
struct Curve {
    cv::Point2d middle, along;          ///< the axis from which the arc is told; `along` of length 1
    cv::Vec3d arc{0, 0, 0};             ///< aside of the axis at t along it: arc[0] + arc[1] t + arc[2] t^2
    double low = 0, high = 0;           ///< t where it begins and ends
    double spread = 0;                  ///< standard deviation aside of what shows of it
    [[nodiscard]] double half() const;  ///< how far aside it may show
    [[nodiscard]] double length() const { return high - low; }
    [[nodiscard]] double t(cv::Point2d p) const { return (p - middle).dot(along); }
    /// Distance from the arc, signed.
    [[nodiscard]] double aside(cv::Point2d p) const;
    /// The place `u` aside of the arc.
    [[nodiscard]] cv::Point2d place(double t, double u) const;
};

/// The curve along which most of the spots' strength lies, followed both ways through the map they are of. Nothing where it has gaps. `ppu`: pixels
/// per um.
std::optional<Curve> strongestCurve(const std::vector<Spot>& spots, const cv::Mat1f& map, double ppu);

/// The curve fitted again to those of the spots that show of it alone.
Curve settled(Curve curve, const std::vector<Spot>& spots, double ppu);

}  // namespace clendo::face
