#pragma once
#include <span>

#include "record/advice/round.h"

namespace clendo {

/// Where somebody stands in the round.
struct Standing {
    FaceId chosen;
    bool atFace = false;                ///< looks at it now
    StepKind working = StepKind::Look;  ///< what was done last: looking or cleaning
};

/// What to do next of what is left: what can be done now (damaged faces wait for a decision, pairs for their faces, sleeves for their pair); of that
/// the next of the same kind of work beside the chosen face, so that six ports are looked at, cleaned and looked at again; else the first. Null:
/// nothing can be done.
const Step* nextStep(const JobState& state, std::span<const Step> left, const Standing& at);

}  // namespace clendo
