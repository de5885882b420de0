#pragma once
#include <opencv2/core.hpp>
#include <optional>
#include <vector>

#include "criteria/finding.h"
#include "face/locate.h"

namespace clendo::face {

/// The picture without what belongs there: light, core and cladding divided out, so that only findings are left.
struct Flattened {
    cv::Rect crop;       ///< where in the picture the maps lie
    cv::Mat1f contrast;  ///< change against the clean surroundings, a share; 0 where nothing is judged
    cv::Mat1f doubt;     ///< extra threshold where the background itself is steep (core's edge, rim)
    cv::Mat1b region;    ///< 0 not judged, 1 glass, 2 ferrule
    std::optional<CoreKind> core;
    double coreStrength = 0;  ///< contrast of the core against the cladding
};

/// `pixelsPerMicrometre` from the scale; `judgeFerrule` false for rectangular ferrules.
Flattened flatten(const cv::Mat1b& picture, const CladdingEdge& edge, double pixelsPerMicrometre, bool judgeFerrule);

}  // namespace clendo::face
