#pragma once
#include <vector>

#include "otdr/analysis.h"
#include "otdr/signal.h"

namespace clendo::otdr {

/// Names echoes: a peak without loss at a sum of distances between stronger reflectors, as strong as their echo would be, is no joint (light that
/// goes back from b to a, and again from c, is seen at b + c - a). Echoes of echoes are named too, and those of the front panel.
void nameGhosts(std::vector<Event>& events, const Signal& signal);

}  // namespace clendo::otdr
