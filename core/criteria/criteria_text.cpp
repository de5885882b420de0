// Criteria written as files.
#include <cmath>

#include "criteria/criteria.h"
#include "files/json_reading.h"

namespace clendo {
namespace {

using Ordered = nlohmann::ordered_json;

/// Hundredths are finer than any rule: no binary tails in a file that people read.
double tidy(Micrometre value) { return std::round(value.value() * 100) / 100; }

Ordered ruleToJson(const Rule& rule)
{
    return {{"zone", name(rule.zone)},
            {"kind", name(rule.kind)},
            {rule.lowerIncluded ? "from_um" : "over_um", tidy(rule.lower)},
            {"up_to_um", rule.upper ? Ordered(tidy(*rule.upper)) : Ordered()},
            {"allowed", rule.allowed ? Ordered(*rule.allowed) : Ordered()}};
}

}  // namespace

std::string criteriaText(const Criteria& criteria)
{
    Ordered out{{"format", "clendo-criteria"},
                {"format_version", 1},
                {"name", criteria.name},
                {"edition", criteria.edition},
                {"version", criteria.version},
                {"checked", criteria.checked},
                {"source", criteria.source},
                {"note", criteria.note},
                {"scratch_zone", criteria.scratchInEveryZone ? "every" : "innermost"},
                {"size_uncertainty_um", tidy(criteria.sizeUncertainty)},
                {"size_uncertainty_share", criteria.sizeUncertaintyShare},
                {"must_resolve_um", tidy(criteria.mustResolve)},
                {"place_uncertainty_um", tidy(criteria.placeUncertainty)},
                {"classes", Ordered::object()}};
    for (const auto& [key, faceClass] : criteria.classes) {
        Ordered zones = Ordered::array(), rules = Ordered::array();
        for (const auto& zone : faceClass.zones) zones.push_back({{"zone", name(zone.zone)}, {"from_um", tidy(zone.from)}, {"to_um", tidy(zone.to)}});
        for (const auto& rule : faceClass.rules) rules.push_back(ruleToJson(rule));
        out["classes"][key] = {{"title", faceClass.title},
                               {"core", faceClass.multimode ? "MM" : "SM"},
                               {"rectangular", faceClass.rectangular},
                               {"zones", zones},
                               {"rules", rules}};
    }
    return out.dump(1, ' ', false, Ordered::error_handler_t::replace) + "\n";
}

}  // namespace clendo
