#pragma once
#include <opencv2/core.hpp>

#include "face/find/locate.h"

namespace clendo::face {

/// Noise that the picture had and no longer shows in the glass, in grey levels; 0 where none is missed. Such a picture looks quieter than it is: what
/// remains measures nothing, and what came instead is no finding.
/// - JPEG (ITU-T T.81) keeps a block of 8 by 8 pixels flat until its noise exceeds half a quantisation step, and then puts a whole pattern there.
/// - Few bits, or a stretched range: grey levels between which there are none.
double lostNoise(const cv::Mat1b& picture, const Circle& cladding);

}  // namespace clendo::face
