#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "plant/plan.h"

namespace clendo {

/// What people type into plans and tables.

/// A length with comma or point, with or without m or km: "2400 m", "2,4 km".
std::optional<Metre> parseLength(std::string_view text);
/// "1180, 1905" is no list: write "1180 manhole 3; 1905 sea wall". An Error names the part that is no distance.
Result<std::vector<Splice>> parseSplices(std::string_view text);
/// "620 IDF-2 port 25; 624 IDF-3": panels at which the link is patched, port 1 where none is said. An Error names the part that is none.
Result<std::vector<InnerPanel>> parsePanels(std::string_view text);
/// "1-24" as first and last; "7" as 7 and 7. Nothing where it is neither or runs backwards.
std::optional<std::pair<int, int>> parsePorts(std::string_view text);
/// Without blanks at both ends.
std::string_view trimmed(std::string_view text);

}  // namespace clendo
