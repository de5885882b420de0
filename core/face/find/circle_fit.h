#pragma once
#include <opencv2/core.hpp>
#include <optional>
#include <vector>

#include "face/find/locate.h"

namespace clendo::face {

/// The circle nearest to points in the least squares of their areas (I. Kåsa, IEEE Transactions on Instrumentation and Measurement 25, 1976); nothing
/// of fewer than three or of points on a line.
std::optional<Circle> circleThrough(const std::vector<cv::Point2f>& points);

/// How far points lie off a circle, root of mean squares.
double offCircle(const std::vector<cv::Point2f>& points, const Circle& circle);

}  // namespace clendo::face
