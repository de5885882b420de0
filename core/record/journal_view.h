#pragma once
#include <span>
#include <string>
#include <vector>

#include "record/corrections.h"
#include "record/state.h"

namespace clendo {

/// What an entry says, for people: "Looked at TH-R2 port 7: 3 findings".
std::string sentenceOf(const Entry& entry, const JobState& state);
/// The kind of an entry, for people: "look", "cleaning".
std::string_view kindWords(const Fact& fact);
/// The face or link that an entry is about, as its id; empty: none.
std::string subjectOf(const Fact& fact);

/// Which entries to show. Empty fields ask for nothing.
struct JournalFilter {
    std::string words;    ///< all of them must stand in the sentence, the kind or the person; letters' case does not matter
    std::string subject;  ///< a face, link or cable, or the beginning of its id
    std::string who;
    std::string kind;  ///< as kindWords() says it
};

/// Places in `entries` that match, in order.
std::vector<std::size_t> journalMatches(std::span<const Entry> entries, const JobState& state, const JournalFilter& filter);
/// Pairs of entries of which the later has the earlier clock time: a clock was set back. Places in `entries` of the later ones.
std::vector<std::size_t> clockSetBack(std::span<const Entry> entries);

}  // namespace clendo
