// The plan and the kit of the demo, as far as nothing happens yet.
#include "demo/demo_plan.h"

#include "cleaning/kit_kinds.h"
#include "criteria/criteria.h"
#include "files/files.h"

namespace clendo {

CablePlan varrowCable()
{
    CablePlan c;
    c.id = "VP-04";
    c.placeA = "Tide Hall";
    c.placeB = "Breakwater Hut";
    c.panelA = "TH-R2";
    c.panelB = "BH box";
    c.fibres = 12;
    c.length = Metre(2400);
    c.splices = {{"manhole 3", Metre(1180)}, {"sea wall", Metre(1905)}};
    return c;
}

CablePlan varrowTrunk()
{
    CablePlan c;
    c.id = "VP-11";
    c.placeA = "Tide Hall";
    c.placeB = "Glass Lab";
    c.panelA = "TH-R2 trunk";
    c.panelB = "GL-1";
    c.fibre = "OM4";
    c.connector = "MPO";
    c.className = "mm-multi";
    c.fibres = c.ferruleFibres = 12;
    c.length = Metre(86);
    c.endA.pins = c.endB.pins = Side::Cord;
    return c;
}

std::string portOf(int fibre, End end) { return FaceId{fmt::format("VP-04/{}", fibre), end, Side::Port}.text(); }

Result<Fact> houseRule()
{
    auto criteria = loadCriteria("2015", dataFolder());
    if (!criteria) return tl::unexpected(criteria.error());
    criteria->name = criteria->edition = "House rule";
    criteria->source = "made up for this demo, after " + criteria->source;
    for (auto& rule : criteria->classes.find("sm-upc")->second.rules) {
        if (rule.zone == Zone::B && rule.kind == RuleKind::Defect && rule.allowed) rule.allowed = 0;
        if (rule.zone == Zone::D && rule.kind == RuleKind::Defect) rule.lower = Micrometre(3);
    }
    return CriteriaKept{criteria->edition, criteriaText(*criteria)};
}
std::vector<Fact> demoKit(std::int64_t now)
{
    constexpr std::int64_t day = 86400;
    std::vector<Fact> out;
    out.emplace_back(KitKept{"scope 1", "scope", {}, "VS-0192", 0, 0, {}, false});
    out.emplace_back(KitKept{"tip LC", "tip", {"LC"}, {}, 0, 0, {}, false});
    out.emplace_back(KitKept{"tip MPO", "tip", {"MPO"}, {}, 0, 0, {}, false});
    out.emplace_back(KitKept{"pen 1", "pen", {"LC"}, {}, 0, 20, {}, false});
    out.emplace_back(KitKept{"pen MPO", "pen", {"MPO"}, {}, 0, 500, {}, false});
    out.emplace_back(KitKept{"cassette 1", "cassette", {}, {}, 0, 500, {}, false});
    out.emplace_back(KitKept{"sticks LC", "sticks", {"LC"}, {}, 0, 100, {}, false});
    out.emplace_back(KitKept{"alcohol", "alcohol", {}, {}, 0, 0, {}, false});
    for (const auto& [name, serial] :
         {std::pair("RC-1", "C-0117"), {"RC-2", "C-0118"}, {"RC-3", "C-0121"}, {"launch 1", "C-0204"}, {"launch 2", "C-0205"}})
        out.emplace_back(KitKept{name, "cord", {"LC"}, serial, 0, 500, "sm-upc", false});
    out.emplace_back(KitKept{"golden 1", std::string(goldenKind), {"LC"}, "C-0190", 0, 0, "sm-upc", false});
    out.emplace_back(KitKept{"source 1", "source", {}, "LS-3310", now + 200 * day, 0, {}, false});
    out.emplace_back(KitKept{"meter 1", "meter", {}, "PM-2207", now + 9 * day, 0, {}, false});
    return out;
}

}  // namespace clendo
