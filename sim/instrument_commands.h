#pragma once
#include <functional>

#include "sim/scpi_parser.h"
#include "world/world.h"

namespace clendo::sim {

/// The instrument of that name as a device that speaks SCPI. `now`: the world, brought up to its clock; outlives the device.
ScpiDevice deviceOf(const std::string& name, const std::function<world::World&()>& now);

}  // namespace clendo::sim
