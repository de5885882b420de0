#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>

#include "report/certificate/folder.h"

namespace clendo {

/// The certificate of a cord (core/batch/cord_certificate.h): PDF with its pictures, JSON and CSV in a folder of its own within `folder`, named after
/// the cord and signed by `key` where there is one. Pictures are read from where the sheet found them.
Result<PlacedFiles> writeCord(const nlohmann::json& cord, const std::string& csv, const QString& folder, const seal::SigningKey* key = nullptr);

}  // namespace clendo
