#include "record/state/stations.h"

#include <fmt/format.h>

#include <algorithm>
#include <tuple>

#include "record/state/ferrule.h"
#include "record/state/state.h"

namespace clendo {
namespace {

class StationMaker {
public:
    explicit StationMaker(const JobPlan& plan) : plan_(plan), firstLink_(plan.cables.size())
    {
        std::size_t link = 0;
        for (std::size_t n = 0; n < plan.cables.size(); ++n) {
            firstLink_[n] = link;
            link += static_cast<std::size_t>(plan.cables[n].fibres);
        }
        out_.ofLink.resize(plan.links.size());
    }

    Stations run()
    {
        for (const std::string& place : placesOf(plan_)) atPlace(place);
        for (std::size_t n = 0; n < plan_.cables.size(); ++n) light(n);
        return std::move(out_);
    }

private:
    /// Everything at one place. A tip for cord ends and one for adapters are two: by tips, all cord ends of a panel come before what lies behind its
    /// adapters.
    void atPlace(const std::string& place)
    {
        struct Panel {
            std::size_t cable;
            Connection at;
            /// First what asks for another tip or tool, then the way along the racks.
            std::tuple<std::string, Access, std::string> order;
        };
        std::vector<Panel> panels;
        for (std::size_t n = 0; n < plan_.cables.size(); ++n) {
            const CablePlan& cable = plan_.cables[n];
            for (const Connection at : cable.connections())
                if (cable.place(at) == place)
                    panels.push_back({n, at, {ferruleOfFamily(cable.connectorAt(at)), cable.accessAt(at), cable.rackAt(at)}});
        }
        std::stable_sort(panels.begin(), panels.end(), [](const Panel& a, const Panel& b) { return a.order < b.order; });
        const bool byTips = plan_.policy("order") == "tips", sleeves = plan_.policy("sleeve") == "step";
        using What = Station::What;
        for (const auto& panel : panels) {
            const CablePlan& cable = plan_.cables[panel.cable];
            const auto shared = static_cast<std::size_t>(std::max(1, cable.ferruleFibres));
            out_.strips.push_back({panel.cable, panel.at, false});
            const auto add = [&](What what, std::size_t fibre) {
                const auto place_ = static_cast<std::uint32_t>(out_.all.size());
                const std::size_t link = firstLink_[panel.cable] + fibre;
                out_.all.push_back({what, Direction::AtoB, static_cast<std::uint32_t>(link), panel.at, stripNow()});
                // what is seen and done with any of its fibres matters for the ferrule
                for (std::size_t other = 0; other < shared && fibre + other < static_cast<std::size_t>(cable.fibres); ++other)
                    out_.ofLink[link + other].push_back(place_);
            };
            const auto fibres = static_cast<std::size_t>(cable.fibres);
            if (byTips)
                for (std::size_t fibre = 0; fibre < fibres; fibre += shared) add(What::Cord, fibre);
            for (std::size_t fibre = 0; fibre < fibres; fibre += shared) {
                if (!byTips) add(What::Cord, fibre);
                add(What::Port, fibre);
                if (sleeves) add(What::Sleeve, fibre);
                add(What::Mate, fibre);
            }
        }
    }

    /// By what a scope's tip fits: families of one ferrule share it, a rectangular one has its own.
    [[nodiscard]] std::string ferruleOfFamily(const std::string& connector) const
    {
        const ConnectorFamily* family = familyNamed(plan_.connectors, connector);
        return family && family->ferrule ? fmt::format("{:06.0f}", family->ferrule->value()) : connector;
    }

    void light(std::size_t cable)
    {
        using What = Station::What;
        out_.strips.push_back({cable, End::A, true});
        const auto add = [&](What what, std::size_t link, Direction direction = Direction::AtoB) {
            out_.all.push_back({what, direction, static_cast<std::uint32_t>(link), End::A, stripNow()});
            return static_cast<std::uint32_t>(out_.all.size() - 1);
        };
        for (const Direction direction : plan_.lossDirections()) out_.references.push_back(add(What::Reference, firstLink_[cable], direction));
        std::vector<What> each{What::Loss};
        if (plan_.policy("right_fibre") == "prove") each.push_back(What::RightFibre);
        each.push_back(plan_.policy("tier") == "2" ? What::Trace : What::Length);
        each.push_back(What::Sign);
        for (std::size_t link = firstLink_[cable]; link < firstLink_[cable] + static_cast<std::size_t>(plan_.cables[cable].fibres); ++link)
            for (const What what : each) out_.ofLink[link].push_back(add(what, link));
    }

    [[nodiscard]] std::uint16_t stripNow() const { return static_cast<std::uint16_t>(out_.strips.size() - 1); }

    const JobPlan& plan_;
    std::vector<std::size_t> firstLink_;  ///< by cable: the place of its first link
    Stations out_;
};

}  // namespace

Stations stationsOf(const JobPlan& plan) { return StationMaker(plan).run(); }

bool isDone(const JobState& state, const Station& station)
{
    using What = Station::What;
    const Link& link = state.plan->links[station.link];
    if (station.what == What::Reference) {
        const auto wavelengths = state.plan->wavelengthsFor(*link.cable);
        return std::all_of(wavelengths.begin(), wavelengths.end(), [&](int nm) { return state.reference(station.direction, Nanometre(nm)); });
    }
    const LinkState& of = state.state(link.id);
    switch (station.what) {
        case What::Cord:
        case What::Port: {
            const FaceState& face = state.face(decidingFace(state, {link.id, station.at, station.what == What::Cord ? Side::Cord : Side::Port}));
            return face.condition == FaceCondition::Fit || (of.mated.contains(station.at) && !face.suspicion);
        }
        case What::Sleeve: return of.mated.contains(station.at) || of.sleeves.contains(station.at);
        case What::Mate: return of.mated.contains(station.at);
        default: break;
    }
    // what stands signed was complete, or was signed all the same
    if (of.signature && of.signature->stands) return true;
    switch (station.what) {
        case What::Loss: return of.done.loss;
        case What::RightFibre: return of.done.rightFibre;
        case What::Length: return of.done.length;
        case What::Trace: return of.done.traces && of.done.length;
        default: return false;
    }
}

std::vector<std::string> placesOf(const JobPlan& plan)
{
    std::vector<std::string> out;
    const auto add = [&](const std::string& place) {
        if (std::find(out.begin(), out.end(), place) == out.end()) out.push_back(place);
    };
    for (const auto& cable : plan.cables) add(cable.placeA);
    for (const auto& cable : plan.cables)
        for (const auto& panel : cable.inner) add(panel.name);
    for (const auto& cable : plan.cables) add(cable.placeB);
    return out;
}

}  // namespace clendo
