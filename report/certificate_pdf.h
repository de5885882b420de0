#pragma once
#include <QString>
#include <functional>
#include <nlohmann/json_fwd.hpp>
#include <string>

#include "result/result.h"

namespace clendo {

/// Gives the bytes of a picture or trace by its SHA-256.
using EvidenceSource = std::function<Result<std::string>(const std::string& sha256)>;

/// Writes a certificate (core/record/certificate.h) as PDF: summary, then a page per link with the pictures before and after, the
/// readings and the traces drawn. Needs a QGuiApplication (offscreen will do).
Result<void> writeCertificatePdf(const nlohmann::json& certificate, const EvidenceSource& evidence, const QString& path);

/// PDF, JSON and CSV side by side in `folder` (made where missing), named after the subject. Gives the paths.
Result<QStringList> writeCertificate(const nlohmann::json& certificate, const EvidenceSource& evidence, const QString& folder);

}  // namespace clendo
