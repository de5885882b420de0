#pragma once
#include <string>
#include <string_view>
#include <vector>

#include "files/evidence.h"
#include "record/rules/completeness.h"

namespace clendo {

/// What a signature stands for: of a link its plan, the rules with their hashes, each part with its words, its verdict and the entries that it rests
/// on; of a cable the hash of that of each of its links. Canonical JSON (RFC 8785, schema: docs/certificate.md): its SHA-256 is what a signature
/// carries, and it is filed as evidence with it. Empty where there is no such link or cable. The clock changes nothing in it.
std::string signedRecord(const JobState& state, std::string_view subject);

/// A signature bound to what it stands for now, and that as the evidence to be filed with it; nothing where there is no such link or cable.
struct BoundSignature {
    Signed sign;
    Evidence record;
};
std::optional<BoundSignature> boundSignature(const JobState& state, const std::string& subject, const std::string& remark);

/// One line that says something else than before.
struct Difference {
    std::string about;
    std::string before, now;  ///< in words; empty: there was, or is, no such line
};
/// What differs between two signed records, line by line; a single line that says so where one of them cannot be read.
std::vector<Difference> differences(std::string_view before, std::string_view now);

}  // namespace clendo
