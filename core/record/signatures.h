#pragma once
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "record/journal/chain.h"
#include "record/state.h"

namespace clendo {

/// A signature in the journal, and whether what it was given for is still what the journal says.
struct Signature {
    std::string subject, by;
    std::int64_t at = 0;  ///< seconds since 1970-01-01 UTC
    Digest entry;
    /// The first later entry about the same link or cable, or about the rules by which it is judged; nothing: the signature stands.
    struct Overtaken {
        std::int64_t since = 0;
        Digest by;
    };
    std::optional<Overtaken> overtaken;
};

/// All signatures that were not taken back, in the order of the journal.
std::vector<Signature> signaturesIn(std::span<const Entry> journal, const JobState& state);

/// Entries that a signature was given over and that are not there; `known` losses are not missing again.
std::vector<Wrong> missingUnderSignatures(std::span<const Entry> journal, std::span<const LossesNoted> known);

}  // namespace clendo
