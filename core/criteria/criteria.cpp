#include "criteria/criteria.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "files/files.h"
#include "files/json_reading.h"

namespace clendo {
namespace {

using nlohmann::json;
constexpr double largestDiameter = 5000;  // a ferrule of 2.5 mm and more is never judged beyond this

std::optional<RuleKind> ruleKindNamed(std::string_view text)
{
    for (const auto kind : {RuleKind::Scratch, RuleKind::Defect, RuleKind::Crack})
        if (name(kind) == text) return kind;
    return std::nullopt;
}

ZoneRing readZone(const json& value, const std::string& where, std::optional<std::string>& problem)
{
    JsonReading in(value, where);
    ZoneRing ring;
    if (const auto zone = zoneNamed(in.text("zone")))
        ring.zone = *zone;
    else
        in.complain("“zone” must be A, B, C or D");
    ring.from = Micrometre(in.number("from_um", 0, largestDiameter));
    ring.to = Micrometre(in.number("to_um", 0, largestDiameter));
    if (ring.to <= ring.from) in.complain("the zone must end outside of where it begins");
    if (!problem) problem = in.problem();
    return ring;
}

Rule readRule(const json& value, const std::string& where, std::optional<std::string>& problem)
{
    JsonReading in(value, where);
    Rule rule;
    if (const auto zone = zoneNamed(in.text("zone")))
        rule.zone = *zone;
    else
        in.complain("“zone” must be A, B, C or D");
    if (const auto kind = ruleKindNamed(in.text("kind")))
        rule.kind = *kind;
    else
        in.complain("“kind” must be scratch, defect or crack");
    rule.lowerIncluded = in.find("from_um") != nullptr;
    rule.lower = Micrometre(in.number(rule.lowerIncluded ? "from_um" : "over_um", 0, largestDiameter));
    if (const auto upper = in.numberOrNothing("up_to_um", 0, largestDiameter)) rule.upper = Micrometre(*upper);
    if (rule.upper && *rule.upper <= rule.lower) in.complain("“up_to_um” must be larger than where the band begins");
    if (const auto allowed = in.numberOrNothing("allowed", 0, 100000)) rule.allowed = static_cast<int>(*allowed);
    if (!in.find("allowed")) in.complain("“allowed” must be a count, or null for no limit");
    if (!problem) problem = in.problem();
    return rule;
}

FaceClass readClass(const std::string& key, const json& value, std::optional<std::string>& problem)
{
    JsonReading in(value, "class " + key);
    FaceClass out;
    out.name = key;
    out.title = in.text("title");
    const std::string core = in.text("core");
    if (core != "SM" && core != "MM") in.complain("“core” must be SM or MM");
    out.multimode = core == "MM";
    out.rectangular = in.flagOr("rectangular", false);
    int n = 0;
    for (const auto& zone : in.list("zones")) out.zones.push_back(readZone(zone, fmt::format("class {}, zone {}", key, ++n), problem));
    n = 0;
    for (const auto& rule : in.list("rules")) out.rules.push_back(readRule(rule, fmt::format("class {}, rule {}", key, ++n), problem));
    if (out.zones.empty()) in.complain("there is no zone");
    for (std::size_t i = 0; i < out.zones.size(); ++i) {
        const Micrometre begins = i == 0 ? Micrometre(0) : out.zones[i - 1].to;
        if (out.zones[i].from != begins)
            in.complain(fmt::format("zone {} must begin at {} µm, where the one inside it ends: zones may neither overlap nor leave a gap",
                                    name(out.zones[i].zone), begins.value()));
    }
    for (const auto& rule : out.rules) {
        bool known = false;
        for (const auto& zone : out.zones) known = known || zone.zone == rule.zone;
        if (!known) in.complain(fmt::format("a rule names zone {}, which the class does not have", name(rule.zone)));
    }
    if (!problem) problem = in.problem();
    return out;
}

}  // namespace

std::string_view name(RuleKind kind)
{
    switch (kind) {
        case RuleKind::Scratch: return "scratch";
        case RuleKind::Defect: return "defect";
        case RuleKind::Crack: return "crack";
    }
    return "defect";
}

std::string bandWords(const Rule& rule)
{
    std::string what = rule.kind == RuleKind::Scratch ? "scratches" : rule.kind == RuleKind::Crack ? "cracks" : "defects";
    if (rule.lower <= Micrometre(0) && !rule.upper) return what;
    if (!rule.upper) return fmt::format("{} {} {:g} µm", what, rule.lowerIncluded ? "from" : "over", rule.lower.value());
    if (rule.lower <= Micrometre(0)) return fmt::format("{} up to {:g} µm", what, rule.upper->value());
    return fmt::format("{} {:g} to {:g} µm", what, rule.lower.value(), rule.upper->value());
}

Result<FaceClass> Criteria::find(std::string_view className) const
{
    if (const auto it = classes.find(className); it != classes.end()) return it->second;
    std::vector<std::string> known;
    for (const auto& [key, faceClass] : classes) known.push_back(key);
    return failure(Error::Code::ClassUnknown,
                   fmt::format("The criteria “{}” have no class “{}”. They have {}.", name, className, fmt::join(known, ", ")));
}

Result<Criteria> parseCriteria(std::string_view text, DetectionTable detection)
{
    const json value = json::parse(text, nullptr, false);
    if (value.is_discarded())
        return failure(Error::Code::CriteriaInvalid, "The criteria file is not JSON. Compare it with the files in data/criteria.");
    JsonReading in(value, "");
    if (in.textOr("format", "") != "clendo-criteria")
        return failure(Error::Code::CriteriaInvalid, "This file holds no acceptance criteria (its “format” is not “clendo-criteria”).");
    if (in.number("format_version", 0, 1e6) > 1)
        return failure(Error::Code::CriteriaInvalid, "The criteria file was written for a newer Clendo. Update Clendo to use it.");
    Criteria out;
    out.name = in.text("name");
    out.edition = in.text("edition");
    out.version = in.text("version");
    out.source = in.text("source");
    out.note = in.textOr("note", "");
    out.checked = in.flagOr("checked", false);
    out.sizeUncertainty = Micrometre(in.number("size_uncertainty_um", 0, 50));
    out.sizeUncertaintyShare = in.number("size_uncertainty_share", 0, 1);
    out.placeUncertainty = Micrometre(in.number("place_uncertainty_um", 0, 50));
    out.mustResolve = Micrometre(in.numberOrNothing("must_resolve_um", 0.5, 50).value_or(out.mustResolve.value()));
    const std::string scratchZone = in.textOr("scratch_zone", "innermost");
    if (scratchZone != "innermost" && scratchZone != "every") in.complain("“scratch_zone” must be innermost or every");
    out.scratchInEveryZone = scratchZone == "every";
    out.hash = sha256(text);
    out.detection = std::move(detection);
    std::optional<std::string> problem = in.problem();
    const json* classes = in.find("classes");
    if (!classes || !classes->is_object() || classes->empty())
        problem = problem.value_or("“classes” must hold at least one class");
    else
        for (const auto& [key, body] : classes->items()) out.classes.emplace(key, readClass(key, body, problem));
    if (problem) return failure(Error::Code::CriteriaInvalid, fmt::format("The criteria file cannot be used: {}.", *problem));
    return out;
}

Result<Criteria> loadCriteria(std::string_view edition, const RuleFiles& rules)
{
    const auto text = edition == "2009" || edition == "2015" ? rules.shipped(fmt::format("criteria/iec-61300-3-35-{}.json", edition))
                      : edition == "pristine"                ? rules.shipped("criteria/pristine.json")
                                                             : rules.own(std::string(edition));
    return text.and_then([&](const std::string& bytes) {
        return loadDetection(rules).and_then([&](DetectionTable detection) { return parseCriteria(bytes, std::move(detection)); });
    });
}

}  // namespace clendo
