#pragma once
#include <nlohmann/json_fwd.hpp>
#include <optional>

#include "world/world.h"

namespace clendo::world {

/// Does what a JSON object says: {"do": "mate", "a": ..., "b": ...} (docs/simulation.md). Nothing: it names no deed that a world knows. Errors:
/// NotThere, StepRefused as of the deeds, ReadingUnclear where something is missing or cannot be; then nothing was changed.
std::optional<Result<void>> doDeed(World& world, const nlohmann::json& deed);
/// How a cleaning is named there, and in a job: "dry", "wet-then-dry", ... Nothing where it is none.
std::optional<Cleaning> cleaningNamed(std::string_view name);

}  // namespace clendo::world
