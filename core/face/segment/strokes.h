#pragma once
#include <opencv2/core.hpp>

namespace clendo::face {

/// Strongest response to straight strokes of `length` pixels: the map averaged along 16 directions. Lifts faint scratches out of noise.
cv::Mat1f strokes(const cv::Mat1f& map, double length);

}  // namespace clendo::face
