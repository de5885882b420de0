#pragma once
#include <functional>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>

#include "files/evidence.h"
#include "seal/statement.h"

namespace clendo {

/// What is on the pages beside the record.
struct PageChoice {
    bool fibrePages = true;                      ///< a page per fibre, with pictures and traces; else summary and cables alone
    std::optional<seal::Seal::Signer> signer{};  ///< whose key signs the folder
    std::int64_t writtenAt = 0;                  ///< seconds since 1970-01-01 UTC
};

/// A certificate (core/record/output/certificate.h) as PDF: one page that says it all, what differs from the one before, a page per cable, a page per
/// fibre. `goesOn`: asked before each fibre; false: an Error.
Result<std::string> certificatePdf(const nlohmann::json& certificate, const EvidenceSource& evidence, const PageChoice& choice = {},
                                   const std::function<bool()>& goesOn = {});

}  // namespace clendo
