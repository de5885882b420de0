#pragma once
#include "face/face_report.h"
#include "plant/plan.h"

namespace clendo {

/// What the vision module offers. The window loads it when the first picture comes: OpenCV would cost it 6 ms of every start.
struct Vision {
    std::vector<face::FaceMeasurement> (*measure)(const face::Picture&, const face::MeasureOptions&) = nullptr;
    face::Picture (*demoPicture)(const FaceId&, int cleanings) = nullptr;
};

/// The loaded module, or an Error when its file is missing. Safe from any thread; loads once.
Result<Vision> vision();

}  // namespace clendo
