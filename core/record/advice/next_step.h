#pragma once
#include <optional>

#include "record/advice/round.h"

namespace clendo {

/// Where somebody stands in the round.
struct Standing {
    FaceId chosen;
    bool atFace = false;                ///< looks at it now
    StepKind working = StepKind::Look;  ///< what was done last: looking or cleaning
};

/// What to do next of what is left: what can be done now (damaged faces wait for a decision, pairs for their faces, sleeves for their pair); of that
/// the next of the same kind of work beside the chosen face, so that six ports are looked at, cleaned and looked at again; else the first. Nothing:
/// nothing can be done.
std::optional<Step> nextStep(const JobState& state, const StepsLeft& left, const Standing& at);
/// The same, and the steps that come after it: three at most.
std::vector<Step> nextSteps(const JobState& state, const StepsLeft& left, const Standing& at);

}  // namespace clendo
