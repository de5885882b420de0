#pragma once
#include <functional>
#include <memory>

#include "face/combine/combine_frames.h"
#include "face/live_frames.h"
#include "face/memory/face_match.h"
#include "plant/plan.h"
#include "world/handling.h"

namespace clendo {

namespace face {
struct Fingerprint;
}

/// What the vision module offers. The window loads it when the first picture comes: OpenCV would cost it 6 ms of every start.
struct Vision {
    std::vector<face::FaceMeasurement> (*measure)(const face::Picture&, const face::MeasureOptions&) = nullptr;
    /// The next frame of a live picture, by what an earlier one tells of it.
    face::FrameMeasured (*measureFrame)(const face::Picture&, const face::MeasureOptions&, const std::shared_ptr<const face::FrameBefore>&) = nullptr;
    /// Frames of one face as one picture; nothing where none shows a fibre.
    std::optional<face::CombinedFrames> (*combine)(const std::vector<face::Picture>&, const face::MeasureOptions&) = nullptr;
    /// By what a face is known again; null where the picture is no evidence of it.
    std::shared_ptr<const face::Fingerprint> (*fingerprint)(const face::Picture&, const face::FaceMeasurement&) = nullptr;
    face::FaceMatch (*matchFaces)(const face::Fingerprint&, const face::Fingerprint&) = nullptr;
    /// The simulated scope on a face that was cleaned so often: gives a frame for each way it is held. Drawing the scene takes some 100 ms.
    std::function<face::Picture(const world::Handling&)> (*simulatedScope)(const FaceId&, int cleanings) = nullptr;
    face::Picture (*simulatedPicture)(const FaceId&, int cleanings) = nullptr;
};

/// The loaded module, or an Error when its file is missing. Safe from any thread; loads once.
Result<Vision> vision();

}  // namespace clendo
