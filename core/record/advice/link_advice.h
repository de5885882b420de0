#pragma once
#include "record/advice/advice.h"
#include "record/state/state.h"

namespace clendo {

// What to do with a link: its loss, its traces, its signature.

/// `now`: seconds since 1970-01-01 UTC; 0: what grows old is left out.
Advice lossAdvice(const JobState& state, const Link& link, std::int64_t now);
Advice traceAdvice(const JobState& state, const Link& link);
Advice signAdvice(const JobState& state, const Link& link);

}  // namespace clendo
