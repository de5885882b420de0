#pragma once
#include <string_view>

#include "world/world.h"

namespace clendo::world {

/// A world out of a scenario (docs/simulation.md has the keys): cables, cords, instruments, what lies on faces, what is mated. What the scenario does
/// not say comes from its seed. Errors: ScenarioInvalid, with the place.
Result<World> readScenario(std::string_view json, const RuleFiles& rules);

}  // namespace clendo::world
