#pragma once
#include <set>
#include <span>
#include <string>
#include <unordered_set>
#include <vector>

#include "record/facts/facts.h"

namespace clendo {

using Corrections = std::unordered_set<Digest, DigestHash>;

/// The entries that a later one corrects: they stay readable and no longer count.
Corrections correctedEntries(std::span<const Entry> journal);

/// The entries of a person's own last act that still count, in the order of the journal: what Z takes back, whole. Own is what this person filed on
/// one of `devices`. Corrections, noted losses and kept rules stay; so does the act with which the job began.
std::vector<const Entry*> lastActOf(std::span<const Entry> journal, std::string_view who, const std::set<std::string>& devices);

}  // namespace clendo
