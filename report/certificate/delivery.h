#pragma once
#include <QString>
#include <functional>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "files/evidence.h"
#include "report/certificate/folder.h"

namespace clendo {

/// Called before each link of each certificate with how many are behind, of all; false: it is to stop, and nothing is written.
using CertificateProgress = std::function<bool(int done, int all)>;

/// How certificates are handed over.
struct Delivery {
    bool fibrePages = true;                 ///< in the PDF
    bool evidence = true;                   ///< pictures and traces lie beside it, as they came
    const seal::SigningKey* key = nullptr;  ///< null: signed by nobody
    std::int64_t now = 0;                   ///< seconds since 1970-01-01 UTC
    CertificateProgress progress{};
};

/// Writes each certificate (core/record/output/certificate.h) into a folder of its own within `folder` (report/certificate/folder.h): PDF, JSON, CSV,
/// a page for the browser, pictures, traces, signature; all of them, or none. One that lies there already is replaced, and the new one says what
/// differs. Any thread may do it.
Result<PlacedFiles> writeCertificates(const std::vector<nlohmann::json>& certificates, const EvidenceSource& evidence, const QString& folder,
                                      const Delivery& delivery = {});

}  // namespace clendo
