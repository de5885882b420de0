#pragma once
#include <optional>
#include <string>
#include <vector>

#include "power/cable_model.h"
#include "record/state/state.h"

namespace clendo {

/// What the readings of a cable that count say together; nothing where there are too few. Worked out once for a state.
const std::optional<CableModel>& cableModel(const JobState& state, const CablePlan& cable);

/// What lies in many readings of a cable and in no fibre: a dirty or moved cord, a source, a reference. In sentences that say what to do, the most
/// certain first.
std::vector<std::string> runFindings(const JobState& state, const CablePlan& cable);

/// What a fibre loses more than the others of its cable, and where to look first; empty: nothing.
std::string ownFinding(const JobState& state, const Link& link);

}  // namespace clendo
