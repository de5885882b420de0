#pragma once
#include <QString>
#include <nlohmann/json_fwd.hpp>
#include <string>

#include "files/evidence.h"

namespace clendo {

/// A certificate (core/record/certificate.h) as PDF: summary, then a page per link with the pictures before and after, the readings and the traces
/// drawn. Needs a QGuiApplication (offscreen will do).
Result<std::string> certificatePdf(const nlohmann::json& certificate, const EvidenceSource& evidence);

/// PDF, JSON and CSV of each certificate in a folder of its own within `folder` (report/certificate_folder.h): all of them, or none. Gives the paths.
Result<QStringList> writeCertificates(const std::vector<nlohmann::json>& certificates, const EvidenceSource& evidence, const QString& folder);

}  // namespace clendo
