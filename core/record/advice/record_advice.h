#pragma once
#include <span>

#include "record/advice/advice.h"
#include "record/state/state.h"

namespace clendo {

/// What the journal as a whole says.
Advice journalAdvice(const JobState& state, std::span<const Entry> entries);
/// What can be learned from what was done so far.
Advice learnAdvice(const struct Learned& learned);

}  // namespace clendo
