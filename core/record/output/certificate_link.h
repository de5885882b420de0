#pragma once
#include <functional>
#include <map>
#include <nlohmann/json_fwd.hpp>
#include <span>
#include <string>

#include "power/applications.h"
#include "record/fold/signatures.h"

namespace clendo {

/// What the certificates of all links of a job have in common.
struct CertificateGround {
    const JobState& state;
    std::span<const Signature> signatures;
    std::span<const Application> applications;
    std::map<Digest, const ReferenceSet*> references;
    /// Where a picture or trace lies in the certificate's folder, by its SHA-256; asked in the order in which they are shown.
    std::function<std::string(const std::string& sha256, const std::string& stem, const std::string& name, bool isTrace)> place;
};

/// One link of a certificate (docs/certificate.md, "links").
nlohmann::json linkToJson(const CertificateGround& ground, const Link& link);
/// How many entries the journal had, the last of them, and the ends of its chains.
nlohmann::json journalToJson(const JobState& state);
/// A signature of a link or cable.
nlohmann::json signatureToJson(const CertificateGround& ground, const SignatureState& signature, std::string_view subject);

}  // namespace clendo
