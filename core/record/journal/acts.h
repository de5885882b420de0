#pragma once
#include <set>
#include <span>
#include <string>
#include <unordered_set>
#include <vector>

#include "record/facts/facts.h"

namespace clendo {

struct JobState;

using Corrections = std::unordered_set<Digest, DigestHash>;

/// The entries that a later one corrects: they stay readable and no longer count.
Corrections correctedEntries(std::span<const Entry> journal);

/// The entries of a person's own last act that still count, in the order of the journal: what Z takes back, whole. Own is what this person filed on
/// one of `devices`. Corrections, noted losses and kept rules stay; so does the act with which the job began.
std::vector<const Entry*> lastActOf(std::span<const Entry> journal, std::string_view who, const std::set<std::string>& devices);

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
