// Profiles written as files.
#include <cmath>

#include "criteria/profile.h"
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

std::string profileText(const Profile& profile)
{
    Ordered out{{"format", "clendo-criteria"},
                {"format_version", 1},
                {"name", profile.name},
                {"edition", profile.edition},
                {"version", profile.version},
                {"checked", profile.checked},
                {"source", profile.source},
                {"note", profile.note},
                {"scratch_zone", profile.scratchInEveryZone ? "every" : "innermost"},
                {"size_uncertainty_um", tidy(profile.sizeUncertainty)},
                {"size_uncertainty_share", profile.sizeUncertaintyShare},
                {"must_resolve_um", tidy(profile.mustResolve)},
                {"place_uncertainty_um", tidy(profile.placeUncertainty)},
                {"classes", Ordered::object()}};
    for (const auto& [key, criteria] : profile.classes) {
        Ordered zones = Ordered::array(), rules = Ordered::array();
        for (const auto& zone : criteria.zones) zones.push_back({{"zone", name(zone.zone)}, {"from_um", tidy(zone.from)}, {"to_um", tidy(zone.to)}});
        for (const auto& rule : criteria.rules) rules.push_back(ruleToJson(rule));
        out["classes"][key] = {{"title", criteria.title},
                               {"core", criteria.multimode ? "MM" : "SM"},
                               {"rectangular", criteria.rectangular},
                               {"zones", zones},
                               {"rules", rules}};
    }
    return out.dump(1, ' ', false, Ordered::error_handler_t::replace) + "\n";
}

}  // namespace clendo
