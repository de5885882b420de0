#pragma once
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "files/evidence.h"
#include "record/fold/signed_record.h"
#include "record/journal/acts.h"
#include "record/journal/chain.h"
#include "record/state/rules.h"

namespace clendo {

/// A signature in the journal, and whether what it was given for is still what the journal says.
struct Signature {
    std::string subject, by;
    std::int64_t at = 0;  ///< seconds since 1970-01-01 UTC
    Digest entry;
    std::string record;  ///< SHA-256 of what was signed; empty: a signature of an earlier version, which is not bound to what it was given for
    std::string remark;
    /// What overtook it.
    struct Overtaken {
        std::optional<std::int64_t> since;  ///< nothing: no entry did; this version of Clendo judges the same entries otherwise
        Digest by;
        std::vector<Difference> differs;  ///< empty where what was signed is not known
    };
    std::optional<Overtaken> overtaken;  ///< nothing: the signature stands
};

/// All signatures that were not taken back, in the order of the journal. `state` is the fold of `journal` with `rules`; `evidence` gives what was
/// signed. A bound signature is overtaken where the record of its subject has another hash now, and by the entry with which that began; an unbound
/// one by the first later entry about its subject or the rules by which it is judged.
std::vector<Signature> signaturesIn(std::span<const Entry> journal, const JobState& state, const Rules& rules, const EvidenceSource& evidence = {});
/// The same for a link and its cable, or for a cable and its links.
std::vector<Signature> signaturesIn(std::span<const Entry> journal, const JobState& state, const Rules& rules, const EvidenceSource& evidence,
                                    const std::string& subject);

/// Whether an entry later than an unbound signature of a link or cable may change what it was given for.
bool mayOvertake(const Entry& entry, const std::string& subject, std::span<const Entry> journal, const JobState& state);

/// Marks unbound signatures of the state that rules, plans or corrections overtook; what touched their links did so as it was applied.
void overtakeUnbound(JobState& state, std::span<const Entry> journal, const Corrections& corrected);

/// Entries that a signature was given over and that are not there; `known` losses are not missing again.
std::vector<Wrong> missingUnderSignatures(std::span<const Entry> journal, std::span<const LossesNoted> known);

}  // namespace clendo
