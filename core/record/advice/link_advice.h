#pragma once
#include "record/advice/advice.h"
#include "record/state/state.h"

namespace clendo {

// What to do with a link: its loss, its traces, its signature.

Advice lossAdvice(const JobState& state, const Link& link);
Advice traceAdvice(const JobState& state, const Link& link);
Advice signAdvice(const JobState& state, const Link& link);

}  // namespace clendo
