#pragma once
#include <cstdint>
#include <map>
#include <string>

#include "files/digest.h"

namespace clendo {

/// What an entry says of itself beside its fact. Times are microseconds since 1970-01-01 UTC.
struct EntryHead {
    Digest hash;                ///< SHA-256 of the canonical JSON of all the rest (journal/chain.h): what other entries know it by
    std::string act;            ///< what one action of a person filed has this in common
    std::int64_t happened = 0;  ///< by the clock of the device: the picture was taken, the key was pressed, the value was read
    std::int64_t filed = 0;     ///< by the hybrid logical clock (journal/hybrid_clock.h): the order of the journal
    std::string who;            ///< a role: "technician 1"
    std::string device;         ///< whose chain it is in
    std::int64_t sequence = 0;  ///< its place there, from 1
    Digest previous;            ///< the entry before it there; none for the first

    /// When it happened, in seconds.
    [[nodiscard]] std::int64_t at() const { return happened / 1'000'000; }
};

/// The last entry of a device's chain.
struct ChainHead {
    std::int64_t sequence = 0;
    Digest hash;
    bool operator==(const ChainHead&) const = default;
};
using ChainHeads = std::map<std::string, ChainHead>;  ///< by device

/// An entry as it is kept and hashed: its fact as kind and canonical JSON.
struct EntryRecord : EntryHead {
    std::string kind, body;
};

}  // namespace clendo
