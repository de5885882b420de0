#pragma once
#include <opencv2/core.hpp>

namespace clendo::face {

/// Robust standard deviation of a map about 0, where it was judged: 1.4826 times the median absolute deviation, of some ten thousand pixels.
/// 1 where hardly anything was judged.
double noiseOf(const cv::Mat1f& map, const cv::Mat1b& judged);

struct Flattened;
/// Of the glass's contrast, with what JPEG hid of it; never less than an 8-bit picture has.
double noiseOf(const Flattened& glass);

/// How strong noise is in a map that holds the strongest of several averages, where it is hardly ever 0.
struct Strengths {
    double typical = 1;  ///< median of the absolute values
    double spread = 1;   ///< robust standard deviation of them
};
Strengths strengthsOf(const cv::Mat1f& map, const cv::Mat1b& judged);

}  // namespace clendo::face
