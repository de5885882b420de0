#pragma once
#include <nlohmann/json_fwd.hpp>
#include <string_view>

#include "power/polarity.h"

namespace clendo {

/// A map as clendo-cli reads it: {"cable", "fibres", "group", "expected", "seen": [[in, out or null], ...]}. `group` left out: all fibres are one.
/// Errors: PlanInvalid names the place.
Result<PolarityMap> polarityMapFromJson(std::string_view text);

/// {"cable", "ok", "proven", "unseen", "faults": [{"kind", "fibres", "message"}]}
nlohmann::json toJson(const PolarityMap& map, const PolarityReport& report);

}  // namespace clendo
