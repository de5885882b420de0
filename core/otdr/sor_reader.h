#pragma once
#include <string_view>

#include "otdr/trace.h"
#include "result/result.h"

namespace clendo::otdr {

/// Reads an OTDR file in the Telcordia SR-4731 format, version 1.x or 2.x. Never trusts a count or a size. Accepts unknown
/// blocks, wrong checksums and data cut short (and says so in Trace::oddities); refuses what holds no trace, no spacing or
/// an impossible group index. `name` is used in messages.
Result<Trace> readSor(std::string_view bytes, std::string_view name);

}  // namespace clendo::otdr
