#pragma once
#include <optional>

#include "otdr/stretch.h"

namespace clendo::otdr {

/// A loss so near before the end of a stretch that the trace still falls when the reflection behind it begins: its level behind is never seen, but a
/// ramp is as long as the pulse, and how steep it is tells how deep it would have gone. Nothing where less than a quarter of the ramp is seen, or
/// where it does not stand out clearly; a rise is none, since reflections begin with one. `to`: the point where the reflection begins.
std::optional<Step> cutStep(const Signal& signal, const Stretch& stretch, std::size_t to);

}  // namespace clendo::otdr
