#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>

#include "record/fold/signatures.h"

namespace clendo {

/// The certificate of one link, or of all links of a cable, as JSON (schema: docs/certificate.md). PDF and CSV are made from it.
/// `signatures`: what signaturesIn() says of them, so that overtaken ones say since when and what differs.
/// `subject` is a link ("VP-04/7") or a cable ("VP-04"); an Error when there is no such thing.
Result<nlohmann::json> certificate(const JobState& state, const std::string& subject, std::span<const Signature> signatures = {});

/// One row per link and wavelength; decimal points, commas between, text quoted as RFC 4180 says.
std::string certificateCsv(const nlohmann::json& certificate);

}  // namespace clendo
