#pragma once
#include <opencv2/core.hpp>

namespace clendo::face {

/// Gives pixels of a camera that are always bright or dark the level of their surroundings: such a pixel stands out alone, while the optics spread
/// whatever lies on a face over its neighbours. `grey`: 0 to 255. Gives how many there were.
int mendLonePixels(cv::Mat1f& grey);

}  // namespace clendo::face
