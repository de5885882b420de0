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

/// Where a fibre is looked for, and what it showed a moment ago.
struct FibrePlace {
    Circle circle;
    std::optional<CoreEstimate> core{};
    double edgeSign = 0;  ///< the same of its edge's profile; 0: none
};

struct FibreMeasured {
    FaceMeasurement face;
    std::optional<CoreEstimate> core{};  ///< nothing: it was not looked for
    double edgeSign = 0;
};

/// Nothing but why.
FaceMeasurement unusable(RetakeReason reason);

/// How it is known where a fibre lies: by looking all over the picture, from the frame before, or by the others of its row.
enum class Place { Found, AsBefore, KnownByOthers };

/// The edge of the fibre at a coarse circle, where there is one. What was its cladding in the frame before is no core now. Where its place and size
/// are known by the others of its row, it lies there if a part of its edge shows there.
std::optional<CladdingEdge> edgeOf(const Looked& looked, const FibrePlace& coarse, const MeasureOptions& options, Place place);

/// The fibre with that edge; where the coarse circle's support was little, the edge has to show all round.
FibreMeasured measureOne(const Looked& looked, const FibrePlace& coarse, const std::optional<CladdingEdge>& edge, const MeasureOptions& options,
                         bool judgeFerrule, Place place);

}  // namespace clendo::face
