#pragma once
#include <span>

#include "record/state/rules.h"
#include "record/state/state.h"

namespace clendo {

/// `now`, seconds since 1970-01-01 UTC: faces that were fit and stayed open too long must be seen again. 0: no clock.
/// `entries` in the order of the journal (journal/order.h).
JobState fold(std::span<const Entry> entries, const Rules& rules, std::int64_t now = 0);

}  // namespace clendo
