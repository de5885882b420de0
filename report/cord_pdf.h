#pragma once
#include <QString>
#include <nlohmann/json_fwd.hpp>

#include "result/result.h"

namespace clendo {

/// The certificate of a cord (core/batch/cord_certificate.h): what it is, by which criteria, and each look with its picture where the file is still
/// there; as PDF, JSON and CSV in a folder of its own within `folder` (report/certificate_folder.h). Gives the paths. Needs a QGuiApplication.
Result<QStringList> writeCord(const nlohmann::json& cord, const std::string& csv, const QString& folder);

}  // namespace clendo
