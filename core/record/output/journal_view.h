#pragma once
#include <span>
#include <string>
#include <vector>

#include "record/journal/acts.h"
#include "record/state/state.h"

namespace clendo {

/// What an entry says, for people; of a correction also what it takes back. `entry` is one of `journal`.
std::string lineOf(const Entry& entry, std::span<const Entry> journal, const JobState& state);

/// Which entries to show. Empty fields ask for nothing.
struct JournalFilter {
    std::string words;    ///< all of them must stand in the sentence, the kind or the person; letters' case does not matter
    std::string subject;  ///< a face, link or cable, or the beginning of its id
    std::string who;
    std::string kind;  ///< as kindWords() says it
    bool operator==(const JournalFilter&) const = default;
};

/// Places in `entries` that match, in order, from `from` on.
std::vector<std::size_t> journalMatches(std::span<const Entry> entries, const JobState& state, const JournalFilter& filter, std::size_t from = 0);
/// Pairs of entries of which the later has the earlier clock time: a clock was set back. Places in `entries` of the later ones.
std::vector<std::size_t> clockSetBack(std::span<const Entry> entries);

}  // namespace clendo
