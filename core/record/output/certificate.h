#pragma once
#include <nlohmann/json_fwd.hpp>
#include <span>
#include <string>

#include "power/applications.h"
#include "record/fold/signatures.h"

namespace clendo {

/// What a certificate says beside what the state alone knows.
struct CertificateExtras {
    std::span<const Signature> signatures{};      ///< what signaturesIn() says of them, so that overtaken ones say since when and what differs
    std::span<const Entry> journal{};             ///< of which the state is the fold: readings then name the level of their reference
    std::span<const Application> applications{};  ///< against which the measured links are held
};

/// The certificate of one link, of all links of a cable, or of the whole job, as JSON (schema: docs/certificate.schema.json). PDF, CSV and HTML are
/// made from it and say nothing of their own. `subject` is a link ("VP-04/7"), a cable ("VP-04"), or empty: the job; an Error when there is no such
/// thing.
Result<nlohmann::json> certificate(const JobState& state, const std::string& subject, const CertificateExtras& extras = {});

}  // namespace clendo
