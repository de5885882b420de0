#pragma once
#include "record/advice/advice.h"
#include "record/state/state.h"

namespace clendo {

/// What is known of where a cable's fibres come out, what is wrong, and what to open first.
Advice rightFibreAdvice(const JobState& state, const Link& link);

}  // namespace clendo
