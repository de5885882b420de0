#include "record/state/job_plan.h"

#include <cstdlib>

#include "record/state/rules.h"

namespace clendo {
namespace {

/// A job names its limits once: "generic-sm" becomes "generic-mm" for its multimode cables.
std::string limitsNameFor(std::string limits, const CablePlan& cable)
{
    const std::string_view wanted = isMultimode(cable) ? "-mm" : "-sm", other = isMultimode(cable) ? "-sm" : "-mm";
    if (limits.ends_with(other)) limits.replace(limits.size() - other.size(), other.size(), wanted);
    return limits;
}

template <class Value>
void take(Result<Value> from, Value& into, std::vector<std::string>& troubles)
{
    if (from)
        into = std::move(*from);
    else
        troubles.push_back(from.error().message);
}

}  // namespace

void JobPlan::loadRules(const Rules& installed)
{
    const Rules rules = installed.keeping(keptRules);
    const auto own = ownCriteria.find(job.edition);
    take(own == ownCriteria.end() ? rules.criteria(job.edition) : loadDetection(rules.files()).and_then([&](DetectionTable shown) {
        return parseCriteria(own->second, std::move(shown));
    }),
         criteria, troubles);
    take(rules.connectors(), connectors, troubles);
    take(rules.kitKinds(), kitKinds, troubles);
    for (const auto& cable : cables) {
        if (limits.contains(cable.fibre)) continue;
        if (auto read = rules.limits(limitsNameFor(job.limits, cable), cable.fibre))
            limits.emplace(cable.fibre, std::move(*read));
        else
            troubles.push_back(read.error().message);
        for (const auto& name : job.alsoLimits) {
            if (auto read = rules.limits(limitsNameFor(name, cable), cable.fibre))
                otherLimits[cable.fibre].push_back(std::move(*read));
            else
                troubles.push_back(read.error().message);
        }
    }
    if (!cables.empty())  // what is asked of them depends on the face; a missing file is told there
        (void)rules.files().shipped("fibres/fibres.json");
    usedRules = rules.files().used();
}

void JobPlan::makeLinks()
{
    for (auto& cable : cables)
        for (auto& link : linksOf(cable)) {
            linkIndex.emplace(link.id, links.size());
            links.push_back(std::move(link));
        }
    stations = stationsOf(*this);
}

const Link* JobPlan::link(std::string_view id) const
{
    const auto it = linkIndex.find(id);
    return it == linkIndex.end() ? nullptr : &links[it->second];
}

const LimitSet* JobPlan::limitsFor(const CablePlan& cable) const
{
    const auto it = limits.find(cable.fibre);
    return it == limits.end() ? nullptr : &it->second;
}

std::vector<Direction> JobPlan::lossDirections() const
{
    return policy("directions") == "one" ? std::vector{Direction::AtoB} : std::vector{Direction::AtoB, Direction::BtoA};
}

std::vector<int> JobPlan::wavelengthsFor(const CablePlan& cable) const
{
    const bool multimode = isMultimode(cable);
    std::vector<int> out;
    for (const int nm : job.wavelengths)
        if (multimode == (nm <= 1300)) out.push_back(nm);
    if (out.empty()) out = multimode ? std::vector{850, 1300} : std::vector{1310, 1550};
    return out;
}

std::optional<double> JobPlan::policyDecimal(std::string_view key) const
{
    const std::string answer(policy(key));
    char* end = nullptr;
    const double number = std::strtod(answer.c_str(), &end);
    return !answer.empty() && *end == '\0' ? std::optional(number) : std::nullopt;
}

}  // namespace clendo
