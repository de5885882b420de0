#pragma once
#include <opencv2/core.hpp>
#include <vector>

#include "face/face_report.h"
#include "face/find/locate.h"

namespace clendo::face {

/// What the surroundings of the cladding's edge show of the making.
struct Making {
    std::vector<MakingFault> faults;
    std::optional<Micrometre> offset;  ///< of an off-centre fibre: half the difference of the gaps on both sides
};

/// Faults of making that the surroundings of the cladding's edge show: a dark gap or crescent (hole too large, fibre off its centre), a soft shadow
/// all around (fibre stands proud), an edge broken in many places, a coarse ferrule. `pxPerUm` is the scale; rectangular ferrules are moulded, their
/// coarseness is no fault.
Making makingFaults(const cv::Mat1b& picture, const CladdingEdge& edge, double pxPerUm, const std::vector<Finding>& findings, bool polishedFerrule);

}  // namespace clendo::face
