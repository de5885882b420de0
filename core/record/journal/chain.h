#pragma once
#include <span>
#include <string>
#include <vector>

#include "record/facts/entry.h"
#include "record/facts/word_facts.h"

namespace clendo {

/// What is hashed: the canonical JSON (RFC 8785) of an entry without its hash, with the members act, body, device, filed, happened, kind, previous,
/// sequence and who. `body` must be canonical already.
std::string canonicalEntry(const EntryRecord& entry);
Digest hashOf(const EntryRecord& entry);
/// The same without a copy of the texts.
Digest hashOf(const EntryHead& entry, std::string_view kind, std::string_view body);

/// The heads of entries or records, for the questions below.
using EntryHeads = std::vector<const EntryHead*>;
template <class Entries>
EntryHeads headsIn(const Entries& entries)
{
    EntryHeads out;
    out.reserve(entries.size());
    for (const auto& e : entries) out.push_back(&e);
    return out;
}

ChainHeads headsOf(const EntryHeads& entries);

/// Something in a job that is not as it was filed.
struct Wrong {
    std::string what;  ///< "entry", "evidence", "file"
    std::string id;    ///< hash of the entry or evidence; of what is missing the place in its chain, "a1b2/17"; empty: of the file as a whole
    std::string message;
    bool operator==(const Wrong&) const = default;
};

/// Whether each device's chain is whole: begins at 1, has no gap, each entry names the one before, times go up, and the last one is the one that the
/// job says. `heads`: as the job says. `known`: losses that were noted; they are not wrong again.
std::vector<Wrong> checkChains(const EntryHeads& entries, const ChainHeads& heads, std::span<const LossesNoted> known);

/// The gaps of the chains: what is missing before, between and behind `entries` where the heads say that it was there; `known` ones left out.
std::vector<LossesNoted::Gap> gapsIn(const EntryHeads& entries, const ChainHeads& heads, std::span<const LossesNoted> known);

}  // namespace clendo
