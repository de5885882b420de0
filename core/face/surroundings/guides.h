#pragma once
#include <opencv2/core.hpp>
#include <vector>

#include "face/face_report.h"

namespace clendo::face {

/// Looks beside the fibres for what aligns the ferrule (holes or pins of 0.7 mm, IEC 61754-7) and notes it at the first and last face of the upper
/// row. Rows are sorted from the left, the upper one first; what the frame cuts off is NotSeen.
void findGuides(const cv::Mat1b& picture, std::vector<FaceMeasurement>& faces);

}  // namespace clendo::face
