#pragma once
#include <span>
#include <vector>

#include "record/facts/facts.h"

namespace clendo {

/// The order of the journal: total, the same wherever the same entries are, and never against a device's own.
bool filedBefore(const EntryHead& a, const EntryHead& b);

/// When the entries of a journal have their effect, asked one after the other in its order: when they happened, so that a look that was judged late
/// lies before the touch that came meanwhile. Where the clock of a device was behind what the job had heard (it was set back), nothing can be said of
/// the delay: then when they were filed.
class EffectClock {
public:
    /// Microseconds since 1970-01-01 UTC; never later than `e` was filed. `before`: the entry before it in the journal; null: there is none.
    std::int64_t timeOf(const Entry* before, const Entry& e);

private:
    bool behind_ = false;  ///< the clock had to be pushed on to come after the entry before: the time of day was earlier
};

/// The times of the entries from place `from` on; `clock` was asked for all before.
std::vector<std::int64_t> effectTimes(std::span<const Entry> journal, EffectClock& clock, std::size_t from = 0);

/// The places of the entries in the order of their effect; entries of one time in the order of the journal.
std::vector<std::size_t> orderOfEffect(std::span<const std::int64_t> effectTimes);

}  // namespace clendo
