#pragma once
#include <string>

#include "otdr/analysis.h"

namespace clendo::otdr {

/// The points of a trace as a table: metres from the front panel, one-way dB; nothing where no light was seen.
std::string pointsCsv(const Trace& trace);
/// What was found, as a table: an empty field is not known.
std::string eventsCsv(const Analysis& found);
/// Settings, what was found and all points, as clendo-cli prints them (docs/cli.md), with "points_db" and "points_m".
std::string everythingJson(const Trace& trace, const Analysis& found);

}  // namespace clendo::otdr
