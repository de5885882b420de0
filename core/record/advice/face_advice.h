#pragma once
#include "record/advice/advice.h"
#include "record/state/state.h"

namespace clendo {

/// What to do with a face; of a ferrule with several fibres with the one that decides.
Advice faceAdvice(const JobState& state, const Link& link, const FaceId& face);
/// Of a job without a plan.
Advice emptyJobAdvice();

}  // namespace clendo
