#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string>

namespace clendo {

/// A certificate as a table: one row per link and wavelength; decimal points, commas between, text quoted as RFC 4180 says.
std::string certificateCsv(const nlohmann::json& certificate);

}  // namespace clendo
