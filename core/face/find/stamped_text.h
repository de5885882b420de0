#pragma once
#include <opencv2/core.hpp>

namespace clendo::face {

/// Where a camera or its program wrote on the picture: 255 over lines of text near its edges, of the picture's size; empty where there are none. Ink
/// is far darker or brighter than what is around it, and four letters or more stand on one line and are equally high. What lies under it is not seen.
cv::Mat1b stampedText(const cv::Mat1b& picture);

}  // namespace clendo::face
