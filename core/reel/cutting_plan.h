#pragma once
#include "reel/cuts.h"

namespace clendo::reel {

/// As little short as can be, then as few joints, then as little waste, then as few reels opened: a mixed-integer program for each, one after the
/// other, with what was reached before held. `seconds`: after so long a search ends with what it has, and says so. An Error where the wish is none:
/// no runs, lengths that are no lengths, names that are there twice.
Result<CuttingPlan> planCuts(const CuttingWish& wish, double seconds = 10);

}  // namespace clendo::reel
