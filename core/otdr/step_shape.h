#pragma once
#include "otdr/stretch.h"

namespace clendo::otdr {

/// Where the step with this number on a stretch begins, to a part of a sample, and what a faint reflection there adds before it falls (0: none is
/// seen): least squares of level, ramp and plateau over the blocks about it, its loss as it was measured with the others.
Step refined(const Signal& signal, const Stretch& stretch, std::size_t number);

}  // namespace clendo::otdr
