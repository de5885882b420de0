#pragma once
#include <optional>
#include <vector>

#include "otdr/analysis.h"
#include "otdr/stretch.h"

namespace clendo::otdr {

/// What was found on a trace, for the link to be read out of it.
struct LinkParts {
    const Trace& trace;
    const Signal& signal;
    const std::vector<std::optional<Stretch>>& stretches;
    std::size_t launchClean = 0;  ///< point behind which the front panel's reflection is over
    double late = 0;              ///< m: by how much later steps are on stretches than their events say
};

/// Adds the span between the launch cord's far connector and the tail cord's near one, or what is wrong with the launch cord, and notes of what this
/// shot cannot tell. The events must be complete.
void addSpan(Analysis& found, const LinkParts& parts, const Cords& cords);

}  // namespace clendo::otdr
