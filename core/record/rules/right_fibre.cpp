#include "record/rules/right_fibre.h"

#include <algorithm>

namespace clendo {
namespace {

int groupOf(const CablePlan& cable)
{
    return std::clamp(cable.ferruleFibres > 1 ? cable.ferruleFibres : cable.tubeFibres, 1, std::max(1, cable.fibres));
}

}  // namespace

PolarityMap seenWays(const JobState& state, const CablePlan& cable)
{
    PolarityMap map;
    map.cable = cable.id;
    map.fibres = cable.fibres;
    map.group = groupOf(cable);
    map.expected = polarityNamed(cable.polarity).value_or(Polarity::Straight);
    for (const auto& link : state.plan->links) {
        if (link.cable->id != cable.id) continue;
        if (!cable.carriesLight(link.fibre)) map.unused.push_back(link.fibre);
        const auto& seen = state.state(link.id).lightSeen;
        // an output that a smaller plan has no more says nothing of the fibres that there are
        if (seen && seen->what.out.value_or(1) <= map.fibres) map.seen.push_back({seen->what.in, seen->what.out});
    }
    return map;
}

int belongsAt(const Link& link)
{
    PolarityMap map;
    map.fibres = link.cable->fibres;
    map.group = groupOf(*link.cable);
    map.expected = polarityNamed(link.cable->polarity).value_or(Polarity::Straight);
    return map.belongs(link.fibre);
}

RightFibres rightFibres(const JobState& state, const CablePlan& cable)
{
    RightFibres out{seenWays(state, cable), {}};
    if (auto report = explain(out.ways)) out.report = std::move(*report);
    return out;
}

}  // namespace clendo
