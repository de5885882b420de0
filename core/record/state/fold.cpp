#include "record/state/fold.h"

#include <algorithm>

#include "record/state/growing_fold.h"
#include "record/state/rules.h"
#include "record/state/waiting.h"

namespace clendo {

JobState fold(std::span<const Entry> entries, const Rules& rules, std::int64_t now)
{
    GrowingFold growing(rules);
    growing.update(entries, now);
    return std::move(growing).takeState();
}

bool agedSince(const JobState& state, std::int64_t now)
{
    const auto limits = waitingLimits(state);
    return std::any_of(state.faces.begin(), state.faces.end(),
                       [&](const auto& node) { return waitingOf(node.second, limits, now) != Waiting::InTime; });
}

}  // namespace clendo
