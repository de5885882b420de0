#pragma once
#include <cstdint>
#include <string>

namespace clendo {

/// "2026-11-23 08:15 UTC"; never beyond the years 1970 to 9999.
std::string timeText(std::int64_t secondsSince1970);

}  // namespace clendo
