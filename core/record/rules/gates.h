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
/// Why a face is not fit now: "was cleaned and not looked at again"; empty where it is.
std::string whyNotFit(const JobState& state, const FaceId& face);
/// The same from what is known of the face alone.
std::string whyNotFit(const FaceState& face, FaceCondition condition);

/// The loss task of a link from its readings and the references that were good when they were read.
LossTask lossTaskOf(const Link& link, ReferenceMethod method, const std::vector<Reading>& readings);

}  // namespace clendo
