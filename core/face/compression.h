#pragma once
#include <opencv2/core.hpp>

#include "face/locate.h"

namespace clendo::face {

/// Noise that compression took out of the glass, in grey levels; 0 where none shows. JPEG (ITU-T T.81) keeps a block of 8 by 8 pixels flat until its
/// noise exceeds half a quantisation step, and then puts a whole pattern there. A picture with many flat blocks looks quieter than it is: what
/// remains measures nothing, and its patterns are no findings.
double noiseLostToCompression(const cv::Mat1b& picture, const Circle& cladding);

}  // namespace clendo::face
