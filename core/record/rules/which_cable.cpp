#include "record/rules/which_cable.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "otdr/joint.h"
#include "record/rules/link_light_parts.h"
#include "record/rules/plan_alignment.h"

namespace clendo {
namespace {

std::vector<SeenJoint> jointsOf(const otdr::Analysis& found, Direction direction)
{
    std::vector<SeenJoint> out;
    const auto& span = *found.span;
    for (const auto& e : found.events)
        if (otdr::isJoint(e)) out.push_back({direction == Direction::AtoB ? e.at - span.from : span.to - e.at, e.reflectance.has_value()});
    std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.at < b.at; });
    return out;
}

std::vector<PlannedJoint> planOf(const CablePlan& cable)
{
    std::vector<PlannedJoint> out{{Metre(0), true}, {cable.length, true}};
    for (const auto& splice : cable.splices) out.push_back({splice.at, false});
    for (const auto& panel : cable.inner) out.push_back({panel.at, true});
    std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.at < b.at; });
    return out;
}

constexpr double clearly = 8;  // of alignments: more than one joint that is missing or of another kind

bool lengthFits(const CablePlan& cable, const otdr::Span& span)
{
    return std::abs((span.length() - cable.length).value()) <= lengthTolerance(cable.length).value();
}

}  // namespace

WhichCable whichCable(const JobState& state, const Link& link, const otdr::Analysis& found, Direction direction)
{
    WhichCable out;
    if (!found.span) return out;
    const auto& span = *found.span;
    const auto seen = jointsOf(found, direction);
    // splices too good to be seen are no sign, nor is one joint more
    const auto costOf = [&](const CablePlan& cable) { return alignPlan(planOf(cable), seen).cost; };
    const bool fits = lengthFits(*link.cable, span);
    const double here = costOf(*link.cable);
    double least = here;
    for (const auto& cable : state.plan->cables) {
        if (&cable == link.cable || isMultimode(cable) != isMultimode(*link.cable) || !lengthFits(cable, span)) continue;
        const double there = costOf(cable);
        if (fits && there > here - clearly) continue;
        if (there >= least && out.better) continue;
        const auto same = std::find_if(state.plan->links.begin(), state.plan->links.end(),
                                       [&](const Link& l) { return l.cable == &cable && l.fibre == link.fibre; });
        if (same == state.plan->links.end()) continue;
        least = there;
        out.better = &*same;
    }
    if (!out.better && fits) {
        auto turned = seen;
        for (auto& joint : turned) joint.at = span.length() - joint.at;
        std::reverse(turned.begin(), turned.end());
        out.turned = alignPlan(planOf(*link.cable), turned).cost < here - clearly;
    }
    if (out.turned)
        out.why = fmt::format("The joints lie as they are seen from {}: was it shot from that end?",
                              direction == Direction::AtoB ? link.cable->placeB : link.cable->placeA);
    else if (out.better)
        out.why = fmt::format("{:.0f} m of fibre with joints as cable {} has them; cable {} is planned with {:.0f} m.", span.length().value(),
                              out.better->cable->id, link.cable->id, link.cable->length.value());
    else if (!fits && span.length() > link.cable->length)
        out.why = fmt::format("{:.0f} m of fibre; cable {} is planned with {:.0f} m, and no other cable of the plan is that long.",
                              span.length().value(), link.cable->id, link.cable->length.value());
    return out;
}

}  // namespace clendo
