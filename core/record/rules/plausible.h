#pragma once
#include <string>

#include "record/state/state.h"

namespace clendo {

/// What is to be asked before a typed reading is filed, in a sentence: a gain, less than the fibre alone can lose, more than the way can explain, the
/// meter's floor, a sign that was turned, the same figures as the fibre next to it. Empty: nothing.
std::string askBeforeFiling(const JobState& state, const PowerRead& read);

}  // namespace clendo
