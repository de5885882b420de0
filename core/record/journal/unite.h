#pragma once
#include <span>
#include <string>
#include <vector>

#include "record/facts/entry.h"

namespace clendo {

/// All entries of both journals, each once, in the order of the journal. Pure, commutative, associative, idempotent. Entries must be what their
/// hashes say.
std::vector<EntryRecord> unite(std::span<const EntryRecord> a, std::span<const EntryRecord> b);

/// Things that two journals say of each other's absence and that cannot both hold. Of two values the later one in the order of the journal counts
/// until somebody decides.
struct Contradiction {
    std::string what;                  ///< "chain", "setting", "plan", "criteria", "rules", "kit", "overruling", "correction"
    std::vector<std::string> entries;  ///< their hashes
    std::string message;
    bool operator==(const Contradiction&) const = default;
    auto operator<=>(const Contradiction&) const = default;
};

/// Between what only one and what only the other journal has; the same whichever comes first.
std::vector<Contradiction> contradictions(std::span<const EntryRecord> a, std::span<const EntryRecord> b);

/// Whether both belong to one job: they begin with the same entry. A journal without entries belongs to every job.
bool sameJob(std::span<const EntryRecord> a, std::span<const EntryRecord> b);

}  // namespace clendo
