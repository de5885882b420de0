#pragma once
#include <array>
#include <opencv2/core.hpp>

namespace clendo::face {

/// Smooth light over a ring: a quadratic surface in x and y, fitted by weighted least squares (Tukey's biweight) so that dirt does not bend it.
class Light {
public:
    /// Only pixels between the radii `from` and `to` about `centre` are asked, and not more than some thousands of them.
    Light(const cv::Mat1f& grey, cv::Point2d centre, double from, double to);

    /// The picture over its light, between the radii; 0 elsewhere.
    [[nodiscard]] cv::Mat1f divide(const cv::Mat1f& grey, double from, double to) const;
    /// Grey level in the middle; 0 where too little was seen for a fit.
    [[nodiscard]] double middle() const { return terms_[0]; }

private:
    cv::Point2d centre_;
    double unit_;
    std::array<double, 6> terms_{};  ///< of 1, x, y, x², xy, y² in units of `unit_`
};

}  // namespace clendo::face
