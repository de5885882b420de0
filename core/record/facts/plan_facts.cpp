#include "record/facts/plan_facts.h"

#include <algorithm>

#include "record/state/state.h"

namespace clendo {
namespace {

using nlohmann::json;

json endToJson(const CableEnd& e)
{
    json out{{"first_port", e.firstPort}, {"cord_criteria", e.cordClass}, {"cord_fibre", e.cordFibre}, {"access", name(e.access)}, {"rack", e.rack}};
    if (e.pins) out["pins"] = name(*e.pins);
    if (!e.connector.empty()) out["connector"] = e.connector;
    if (!e.className.empty()) out["criteria"] = e.className;
    if (!e.device.empty()) out["device"] = e.device;
    return out;
}

/// What a job of an earlier version does not say is as it was then: port 1, cords like the cable, behind an adapter.
CableEnd readEnd(FactReading& in, std::string_view key)
{
    const auto found = in.find(key);
    if (!found || found->is_null()) return {};
    FlatReading e(*found, std::string(key));
    CableEnd end{static_cast<int>(e.number("first_port", 1, 9999)), e.textOr("cord_criteria", ""), e.textOr("cord_fibre", ""), Access::Adapter,
                 e.textOr("rack", "")};
    if (const auto access = accessNamed(e.textOr("access", "adapter")))
        end.access = *access;
    else
        e.complain("“access” must be adapter, device or hardened");
    if (const auto pins = e.textOr("pins", ""); !pins.empty()) {
        end.pins = sideNamed(pins);
        if (!end.pins) e.complain("“pins” must be cord or port");
    }
    end.connector = e.textOr("connector", "");
    end.className = e.textOr("criteria", "");
    end.device = e.textOr("device", "");
    if (e.problem()) in.complain(*e.problem());
    return end;
}

}  // namespace

json CablePlanned::body() const
{
    const CablePlan& c = cable;
    json splices = json::array();
    for (const auto& s : c.splices) splices.push_back({{"name", s.name}, {"at_m", s.at.value()}});
    json out{{"id", c.id},
             {"place_a", c.placeA},
             {"place_b", c.placeB},
             {"panel_a", c.panelA},
             {"panel_b", c.panelB},
             {"fibre", c.fibre},
             {"connector", c.connector},
             {"criteria", c.className},
             {"fibres", c.fibres},
             {"ferrule_fibres", c.ferruleFibres},
             {"tube_fibres", c.tubeFibres},
             {"length_m", c.length.value()},
             {"splices", splices},
             {"end_a", endToJson(c.endA)},
             {"end_b", endToJson(c.endB)}};
    if (c.polarity != "straight") out["polarity"] = c.polarity;
    if (c.eightOfTwelve) out["eight_of_twelve"] = true;
    for (const auto& panel : c.inner)
        out["patched_at"].push_back({{"name", panel.name}, {"at_m", panel.at.value()}, {"first_port", panel.firstPort}});
    return out;
}

CablePlanned CablePlanned::read(FactReading& in)
{
    CablePlan c;
    c.id = in.text("id");
    c.placeA = in.text("place_a");
    c.placeB = in.text("place_b");
    c.panelA = in.text("panel_a");
    c.panelB = in.text("panel_b");
    c.fibre = in.text("fibre");
    c.connector = in.text("connector");
    c.className = in.text("criteria");
    c.fibres = in.whole("fibres", 1, 100000);
    c.ferruleFibres = in.wholeOr("ferrule_fibres", 1, 1000, 1);
    c.tubeFibres = in.wholeOr("tube_fibres", 1, 100000, 12);
    c.length = Metre(in.number("length_m", 0, 1e7));
    for (const auto item : in.list("splices")) {
        FlatReading s(item, "splice");
        c.splices.push_back({s.text("name"), Metre(s.number("at_m", 0, 1e7))});
        if (s.problem()) in.complain(*s.problem());
    }
    if (in.find("patched_at"))
        for (const auto item : in.list("patched_at")) {
            FlatReading s(item, "panel");
            c.inner.push_back({s.text("name"), Metre(s.number("at_m", 0, 1e7)), static_cast<int>(s.number("first_port", 1, 9999))});
            if (s.problem()) in.complain(*s.problem());
        }
    c.polarity = in.textOr("polarity", "straight");
    c.eightOfTwelve = in.flagOr("eight_of_twelve", false);
    c.endA = readEnd(in, "end_a");
    c.endB = readEnd(in, "end_b");
    if (const auto ok = check(c); !ok) in.complain(ok.error().message);
    return {c};
}

std::string CablePlanned::sentence(const JobState&) const
{
    return fmt::format("Planned cable {}: {} fibres, {} to {}, {:.0f} m", cable.id, cable.fibres, cable.placeA, cable.placeB, cable.length.value());
}

void CablePlanned::plan(JobPlan& plan) const
{
    const auto same = std::find_if(plan.cables.begin(), plan.cables.end(), [&](const CablePlan& c) { return c.id == cable.id; });
    if (same == plan.cables.end())
        plan.cables.push_back(cable);
    else
        *same = cable;
}

}  // namespace clendo
