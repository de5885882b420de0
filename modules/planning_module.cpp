#include "modules/planning.h"
#include "reel/cutting_plan.h"

extern "C" __attribute__((visibility("default"))) void clendo_planning(clendo::Planning* planning) { planning->planCuts = clendo::reel::planCuts; }
