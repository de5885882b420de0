#pragma once
#include <QString>
#include <nlohmann/json_fwd.hpp>

#include "result/result.h"

namespace clendo {

/// Writes the certificate of a cord (core/batch/cord_certificate.h) as PDF: what it is, by which criteria, and each look with its picture where the
/// file is still there. Needs a QGuiApplication.
Result<void> writeCordPdf(const nlohmann::json& cord, const QString& path);

/// PDF, JSON and CSV side by side in `folder` (made where missing), named after the cord. Gives the paths.
Result<QStringList> writeCord(const nlohmann::json& cord, const std::string& csv, const QString& folder);

}  // namespace clendo
