#include "record/rules/right_fibre.h"

#include <algorithm>

namespace clendo {

PolarityMap seenWays(const JobState& state, const CablePlan& cable)
{
    PolarityMap map;
    map.cable = cable.id;
    map.fibres = cable.fibres;
    map.group = std::clamp(cable.ferruleFibres > 1 ? cable.ferruleFibres : cable.tubeFibres, 1, std::max(1, cable.fibres));
    for (const auto& link : state.plan->links) {
        if (link.cable->id != cable.id) continue;
        if (const auto& seen = state.state(link.id).lightSeen) map.seen.push_back({seen->what.in, seen->what.out});
    }
    return map;
}

PolarityReport rightFibres(const JobState& state, const CablePlan& cable)
{
    PolarityMap map = seenWays(state, cable);
    // a plan that was made smaller: what was seen of fibres that are no more says nothing of those that are
    std::erase_if(map.seen, [&](const LightWay& way) { return way.in > map.fibres || way.out.value_or(1) > map.fibres; });
    const auto report = explain(map);
    return report ? *report : PolarityReport{};
}

}  // namespace clendo
