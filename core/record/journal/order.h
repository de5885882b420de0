#pragma once
#include <span>
#include <vector>

#include "record/facts.h"

namespace clendo {

/// The order of the journal: total, the same wherever the same entries are, and never against a device's own.
bool filedBefore(const EntryHead& a, const EntryHead& b);

/// When the entries have their effect, for a journal in its order: when they happened, so that a look that was judged late lies before the touch that
/// came meanwhile. Where the clock of a device was behind what the job had heard (it was set back), nothing can be said of the delay: then when
/// they were filed. Microseconds, one for each entry; never later than it was filed.
std::vector<std::int64_t> effectTimes(std::span<const Entry> journal);

/// The places of the entries in the order of their effect; entries of one time in the order of the journal.
std::vector<std::size_t> orderOfEffect(std::span<const std::int64_t> effectTimes);

}  // namespace clendo
