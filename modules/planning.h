#pragma once
#include "reel/cuts.h"

namespace clendo {

/// Searches for the best cutting plan; loaded when the first one is wanted.
struct Planning {
    Result<reel::CuttingPlan> (*planCuts)(const reel::CuttingWish& wish, double seconds) = nullptr;
};
/// Safe from any thread; loads once.
Result<Planning> planning();

}  // namespace clendo
