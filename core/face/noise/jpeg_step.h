#pragma once
#include <opencv2/core.hpp>

#include "face/find/locate.h"

namespace clendo::face {

/// Step by which JPEG (ITU-T T.81) rounded the coarse details of the glass, in grey levels; 0 where the picture was not compressed, or hardly.
/// Rounded coefficients of its blocks of 8 by 8 pixels are 0 or far from it, never between; of other pictures they are of any size.
double jpegStep(const cv::Mat1b& picture, const Circle& cladding);

}  // namespace clendo::face
