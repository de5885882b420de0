#pragma once
#include <nlohmann/json_fwd.hpp>

#include "otdr/analysis.h"
#include "otdr/bidirectional.h"
#include "result/result.h"

namespace clendo::otdr {

/// As docs/cli.md describes `clendo-cli trace` and `bidir`. No number is NaN or infinite.
nlohmann::json headerToJson(const Trace& trace);
nlohmann::json toJson(const Analysis& analysis);
nlohmann::json storedToJson(const Trace& trace);
nlohmann::json toJson(const Bidirectional& both);

/// An analysis back from the journal.
Result<Analysis> analysisFromJson(const nlohmann::json& value);

}  // namespace clendo::otdr
