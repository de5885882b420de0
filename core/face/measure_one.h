#pragma once
#include <opencv2/core.hpp>

#include "face/even/core_kind.h"
#include "face/face_report.h"
#include "face/find/field_of_view.h"
#include "face/find/locate.h"

namespace clendo::face {

/// A picture with what of it can be seen.
struct Looked {
    const cv::Mat1b& original;
    const cv::Mat1b& picture;  ///< going on beyond the field of view
    const FieldOfView& field;
};

/// What a fibre showed in one frame, by which it is found again in the next.
struct FibreShown {
    CoreEstimate core;
    double edgeSign = -1;  ///< of its edge's profile
};

/// Where a fibre is looked for.
struct FibrePlace {
    Circle circle;
    std::optional<FibreShown> before{};  ///< in an earlier frame, which had it there
    bool knownByOthers = false;          ///< the others of its row tell where it lies and how large it is
};

struct FibreMeasured {
    FaceMeasurement face;
    std::optional<FibreShown> shown{};  ///< nothing: it could not be judged
};

/// Nothing but why.
FaceMeasurement unusable(RetakeReason reason);

/// The edge of the fibre at a coarse circle, where there is one. What was its cladding in the frame before is no core now. Where it is known by
/// others, it lies there if a part of its edge shows there.
std::optional<CladdingEdge> edgeOf(const Looked& looked, const FibrePlace& place, const MeasureOptions& options);

/// The fibre with that edge; where the coarse circle's support was little, the edge has to show all round.
FibreMeasured measureOne(const Looked& looked, const FibrePlace& place, const std::optional<CladdingEdge>& edge, const MeasureOptions& options,
                         bool judgeFerrule);

}  // namespace clendo::face
