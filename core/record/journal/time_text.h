#pragma once
#include <cstdint>
#include <string>

namespace clendo {

/// "2026-11-23 08:15 UTC"; never beyond the years 1970 to 9999.
std::string timeText(std::int64_t secondsSince1970);
/// The same for machines: "2026-11-23T08:15:07Z" (ISO 8601).
std::string isoTime(std::int64_t secondsSince1970);

}  // namespace clendo
