#pragma once
#include "power/polarity.h"
#include "record/state/state.h"

namespace clendo {

/// Where light came out of a cable's fibres, as it was seen last of each. Groups are ferrules, where several fibres share one, else tubes.
PolarityMap seenWays(const JobState& state, const CablePlan& cable);

/// The fibre at B at which light into this fibre at A has to come out, by the plan's polarity.
int belongsAt(const Link& link);

struct RightFibres {
    PolarityMap ways;
    PolarityReport report;  ///< as if nothing were known where the plan is beyond the bounds of explain()
};
RightFibres rightFibres(const JobState& state, const CablePlan& cable);

}  // namespace clendo
