#pragma once
#include <opencv2/core.hpp>
#include <vector>

#include "face/find/locate.h"

namespace clendo::face {

/// What a picture shows along rays from the middle of a circle. Radii are in pixels, in steps of `step`.
class RayEdges {
public:
    static constexpr int most = 360;      ///< rays all round
    static constexpr double step = 0.25;  ///< px

    /// `count`: of rays, a divisor of `most`; the radii are `from` to `to`.
    RayEdges(const cv::Mat1f& grey, const Circle& circle, double from, double to, int count);

    /// The median over the rays at each radius; what lies outside the picture is not asked.
    [[nodiscard]] std::vector<double> profile() const;
    /// Where each ray changes most in the wanted direction (1: it becomes brighter outwards, -1: darker), sub-sample by a parabola. NaN where
    /// unclear.
    [[nodiscard]] std::vector<double> steepest(double sign) const;
    /// Where each ray, on its way out `to` a radius, first changes by a share of what rays change by at most (their median). NaN where it does not.
    [[nodiscard]] std::vector<double> first(double sign, double share, double to) const;

    /// Robust circle through such places, one for each ray, about the circle that the rays leave from: least squares on r + dx cos + dy sin, Tukey
    /// weights. `circle` becomes it. Gives the share of rays that agree; 0 where there is none, and the circle stays.
    static double fitCircle(const std::vector<double>& places, Circle& circle);

private:
    /// Smoothed change outwards, grey levels a sample; computed when it is first asked for.
    [[nodiscard]] const cv::Mat1f& slope() const;
    static bool within(const float* ray, int sample) { return ray[sample - 2] >= 0 && ray[sample + 2] >= 0; }

    cv::Mat1f unrolled_;  ///< a row for each ray, -1 outside the picture
    mutable cv::Mat1f slope_;
    double from_, radius_;
};

}  // namespace clendo::face
