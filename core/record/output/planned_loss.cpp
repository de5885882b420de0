#include "record/output/planned_loss.h"

#include <algorithm>

namespace clendo {
namespace {

struct Joint {
    Metre at;
    Decibel loss;
};

PlannedLoss alongTheWay(const Budget& budget, const CablePlan& cable, Nanometre wavelength, const LimitSet& limits)
{
    PlannedLoss out{wavelength, budget.total, {}};
    // what the ends hold is what the panels in between leave of the connections
    const Decibel inner = limits.connection * double(cable.inner.size());
    const Decibel end = std::max(Decibel(0), budget.connections - inner) / 2;
    std::vector<Joint> joints;
    for (const auto& panel : cable.inner) joints.push_back({panel.at, limits.connection});
    for (const auto& splice : cable.splices) joints.push_back({splice.at, budget.spliceLoss / double(cable.splices.size())});
    std::stable_sort(joints.begin(), joints.end(), [](const Joint& a, const Joint& b) { return a.at < b.at; });
    Decibel sum = end;
    out.points = {{Metre(0), Decibel(0)}, {Metre(0), sum}};
    Metre last(0);
    for (const auto& joint : joints) {
        sum = sum + budget.attenuation * (joint.at - last);
        out.points.push_back({joint.at, sum});
        sum = sum + joint.loss;
        out.points.push_back({joint.at, sum});
        last = joint.at;
    }
    sum = sum + budget.attenuation * (cable.length - last);
    out.points.push_back({cable.length, sum});
    out.points.push_back({cable.length, budget.total});
    return out;
}

}  // namespace

std::vector<PlannedLoss> plannedLoss(const JobState& state, const Link& link)
{
    std::vector<PlannedLoss> out;
    const CablePlan& cable = *link.cable;
    const LimitSet* limits = state.plan->limitsFor(cable);
    if (!limits) return out;
    const auto& loss = state.state(link.id).loss;
    const ReferenceMethod method = loss ? loss->method : state.plan->job.method;
    for (const int nm : state.plan->wavelengthsFor(cable)) {
        const LinkLoad load{cable.fibre, cable.length, cable.testedConnections(), static_cast<int>(cable.splices.size())};
        const auto sum = budget(load, method, Nanometre(nm), *limits);
        if (sum && sum->total > Decibel(0)) out.push_back(alongTheWay(*sum, cable, Nanometre(nm), *limits));
    }
    return out;
}

}  // namespace clendo
