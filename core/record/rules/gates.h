#pragma once
#include "record/state/state.h"

namespace clendo {

/// What is wrong with the cores that were seen at this end: mixed, or not those of the plan. Nothing where the pictures do not show them.
std::optional<std::string> coreMix(const JobState& state, const Link& link, Connection at);

/// Whether a pair may be joined now; the Error says which face is in the way and why. StepRefused can be overridden with a reason; StepForbidden
/// not: the connectors would be harmed or can never work.
Result<void> mayMate(const JobState& state, const Link& link, Connection at);
/// Whether both faces of a pair are fit now (or trusted under a factory cap, where the job says so): what is left is the sleeve.
bool bothFit(const JobState& state, const Link& link, Connection at);

}  // namespace clendo
