#pragma once
#include <QStringList>
#include <nlohmann/json.hpp>
#include <string>
#include <vector>

#include "result/result.h"

namespace clendo {

/// One certificate as it is handed over.
struct CertificateFiles {
    std::string subject;  ///< a link, a cable, a cord: "VP-04/7"
    std::string pdf;
    nlohmann::json body;
    std::string csv;
};

/// Puts certificates into `folder` (made where missing), each as <name>/<name>.pdf, .json and .csv, where the name is the subject's. All are written
/// beside, put on the disk and read back before the first takes its place; each takes it as a whole, and what was there before stays until then. No
/// two subjects share a name. Other files in a certificate's folder stay there. Gives the paths of what was written.
Result<QStringList> placeCertificates(const std::vector<CertificateFiles>& certificates, const QString& folder);

/// The name of a subject's folder: letters, digits and hyphens as they are, "_" for "/", all else as "=" and two hexadecimal digits. Two subjects
/// never have the same.
QString certificateName(const std::string& subject);

}  // namespace clendo
