#pragma once
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// What an action files: its facts, and with each what it rests on that is known now: readings name their reference, what was measured names the
/// program and the rules that judge it, a signature how far the journal went.
std::vector<Fact> completeAct(std::vector<Fact> facts, const JobState& state);

/// Rule files that the job uses and does not keep yet.
std::vector<Fact> rulesToKeep(const JobState& state);

/// The facts that make `before` into `after`, references that no longer fit voided; for a new job `before` is JobSettings{}, and all of them are
/// filed with `whole`.
std::vector<Fact> settingFacts(const JobSettings& before, const JobSettings& after);
std::vector<Fact> settingFacts(const JobSettings& whole);

}  // namespace clendo
