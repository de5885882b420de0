#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>

#include "report/certificate/pages.h"

namespace clendo {

/// The page that opens a certificate's folder in a browser, without a server and without a network: everything that the record says, with the
/// pictures that lie beside it, and a check of all files against the signature. `stem`: what the other files are named after. An Error where its
/// parts are missing from the data folder.
Result<std::string> htmlIndex(const nlohmann::json& certificate, const std::string& stem, const PageChoice& choice);

}  // namespace clendo
