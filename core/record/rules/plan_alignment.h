#pragma once
#include <cstddef>
#include <optional>
#include <vector>

#include "units/units.h"

namespace clendo {

/// A planned joint and a joint that a trace shows, both from the link's port at A.
struct PlannedJoint {
    Metre at;
    bool connection = false;
};
struct SeenJoint {
    Metre at;
    bool reflects = false;
};

/// Which of the joints seen is which planned one, over all of them at once: in their order, each at most once, the distances stretched alike (plans
/// are paced, and cable is shorter than its fibre), what connects rather with what reflects. What has no counterpart is missing, or is not in the
/// plan.
struct PlanAlignment {
    std::vector<std::optional<std::size_t>> seenOf;  ///< by planned joint
    double scale = 1;                                ///< of the distances seen over those planned
    double cost = 0;                                 ///< how badly they go together: 0 all as planned; some 5 for a joint that is missing
};
/// Both lists in rising order.
PlanAlignment alignPlan(const std::vector<PlannedJoint>& planned, const std::vector<SeenJoint>& seen);

}  // namespace clendo
