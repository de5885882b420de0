#pragma once
#include <opencv2/core.hpp>

namespace clendo::face {

/// The picture over the light that falls on the ferrule, between the radii `from` and `to` about `centre`; 0 elsewhere and where `seen` (255: seen;
/// empty: everywhere) says nothing is. Corners may be far darker than the middle: the logarithm of the light is a surface of the fourth order in x
/// and y (vignetting falls as cos⁴ of the field angle and faster), fitted with Tukey's biweight so that dirt does not bend it. Empty where too little
/// is seen.
cv::Mat1f overFerruleLight(const cv::Mat1f& grey, cv::Point2d centre, double from, double to, const cv::Mat1b& seen);

}  // namespace clendo::face
