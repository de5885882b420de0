#pragma once
#include <QString>
#include <functional>
#include <nlohmann/json_fwd.hpp>
#include <string>

#include "files/evidence.h"

namespace clendo {

/// Called before each link of each certificate with how many are behind, of all; false: it is to stop, and nothing is written.
using CertificateProgress = std::function<bool(int done, int all)>;

/// A certificate (core/record/certificate.h) as PDF: summary, then a page per link with the pictures before and after, the readings and the traces
/// drawn. Needs a QGuiApplication (offscreen will do). `goesOn`: asked before each link; false: an Error.
Result<std::string> certificatePdf(const nlohmann::json& certificate, const EvidenceSource& evidence, const std::function<bool()>& goesOn = {});

/// PDF, JSON and CSV of each certificate in a folder of its own within `folder` (report/certificate_folder.h): all of them, or none. Gives the paths.
/// Any thread may do it.
Result<QStringList> writeCertificates(const std::vector<nlohmann::json>& certificates, const EvidenceSource& evidence, const QString& folder,
                                      const CertificateProgress& progress = {});

}  // namespace clendo
