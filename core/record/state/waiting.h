#pragma once
#include <cstdint>
#include <optional>

#include "record/state/state.h"

namespace clendo {

/// How long a fit face may wait for its partner, by the job's policy.
struct WaitingLimits {
    std::optional<std::int64_t> open, covered;  ///< seconds; nothing: for ever
};
WaitingLimits waitingLimits(const JobPlan& plan);

/// Whether it does: a face that is fit by its own looks and waits for its partner.
bool ages(const FaceState& face);

/// How a face that is fit by its own looks, and not mated, stands with these limits; InTime for every other face. A cap stops dust and is no look:
/// what was covered has a time of its own, and when it is opened again the time since its look counts whole. `now`, seconds since 1970-01-01 UTC.
Waiting waitingOf(const FaceState& face, const WaitingLimits& limits, std::int64_t now);
/// The next moment after `now` at which that becomes something else, if nothing is done with the face; nothing: it stays.
std::optional<std::int64_t> waitingChangesAfter(const FaceState& face, const WaitingLimits& limits, std::int64_t now);

}  // namespace clendo
