#pragma once
#include <string>
#include <string_view>

#include "face/judge/judge_look.h"

namespace clendo::face {

/// What one set of criteria says of a look: for two side by side on the same face.
struct CriteriaOpinion {
    LookVerdict said;
    std::string words;  ///< "not fit by House rule: zone B, other over 2 µm: 3 found, none allowed"
};

CriteriaOpinion opinionOf(const FaceMeasurement& look, std::string_view className, const Criteria& criteria);

}  // namespace clendo::face
