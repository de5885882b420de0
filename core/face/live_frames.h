#pragma once
#include <memory>
#include <vector>

#include "face/face_report.h"

namespace clendo::face {

/// What one frame of a live picture tells of the next: where its fibres lay, their cores, and what of the picture the optics show.
struct FrameBefore;

struct FrameMeasured {
    std::vector<FaceMeasurement> faces;  ///< as of measure(): never empty
    /// For the frames after it; null where they have to be looked at afresh.
    std::shared_ptr<const FrameBefore> before = nullptr;
};

/// As measure(), for frames of one live picture with the same options: each fibre is looked for where an earlier frame had it, which takes less
/// time. Where one of them is not found there or cannot be judged, where the frame has another size, and for each twelfth frame all of it is
/// looked at afresh. Never throws.
FrameMeasured measureFrame(const Picture& picture, const MeasureOptions& options, const std::shared_ptr<const FrameBefore>& before);

}  // namespace clendo::face
