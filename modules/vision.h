#pragma once
#include <functional>

#include "face/face_report.h"
#include "plant/plan.h"
#include "world/handling.h"

namespace clendo {

/// What the vision module offers. The window loads it when the first picture comes: OpenCV would cost it 6 ms of every start.
struct Vision {
    std::vector<face::FaceMeasurement> (*measure)(const face::Picture&, const face::MeasureOptions&) = nullptr;
    /// The simulated scope on a face that was cleaned so often: gives a frame for each way it is held. Drawing the scene takes some 100 ms.
    std::function<face::Picture(const world::Handling&)> (*simulatedScope)(const FaceId&, int cleanings) = nullptr;
    face::Picture (*simulatedPicture)(const FaceId&, int cleanings) = nullptr;
};

/// The loaded module, or an Error when its file is missing. Safe from any thread; loads once.
Result<Vision> vision();

}  // namespace clendo
