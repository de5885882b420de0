#include "record/advice/round.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>
#include <tuple>

#include "record/rules/kit.h"
#include "record/state/ferrule.h"

namespace clendo {
namespace {

using What = Station::What;

/// Puts one station into words.
class StepMaker {
public:
    StepMaker(const JobState& state, const Station& station) : state_(state), s_(station), link_(state.plan->links[station.link]) {}

    Step run()
    {
        switch (s_.what) {
            case What::Cord: return look(Side::Cord);
            case What::Port: return look(Side::Port);
            case What::Sleeve: return sleeve();
            case What::Mate: return mate();
            case What::Reference: return reference();
            case What::Loss: return light(StepKind::Loss, fmt::format("Read the loss of fibre {}", link_.fibre), {"source", "meter"});
            case What::RightFibre: return light(StepKind::RightFibre, fmt::format("Prove that it is fibre {}", link_.fibre), {"source", "meter"});
            case What::Length: return light(StepKind::Length, fmt::format("Measure the length of fibre {}", link_.fibre), {});
            case What::Trace: return light(StepKind::Trace, fmt::format("Shoot fibre {}", link_.fibre), traceCarry());
            case What::Sign: break;
        }
        return light(StepKind::Sign, fmt::format("{} fibre {}", state_.state(link_.id).signature ? "Sign again" : "Sign off", link_.fibre), {});
    }

private:
    [[nodiscard]] std::string faceWords(Side side) const
    {
        if (s_.at.deviceEnd()) return side == Side::Port ? "inside the device" : "the cord's far end";
        return side == Side::Port ? "behind the adapter" : "the cord's end";
    }

    /// A ferrule with several fibres is one thing to look at, to clean and to mate: its steps stand at its first fibre.
    [[nodiscard]] Step look(Side side) const
    {
        const FaceId face = decidingFace(state_, {link_.id, s_.at, side});
        const Link& deciding = *state_.link(face.link);
        const auto condition = state_.face(face).condition;
        Step s{StepKind::Look, link_.place(s_.at), face.link, face, s_.at, {}, deciding.port(s_.at), {}, {}};
        switch (condition) {
            case FaceCondition::Work:
                s.kind = StepKind::Clean;
                s.title = "Clean " + faceWords(side);
                s.carry = carryFor(state_, face, true);
                break;
            case FaceCondition::Damaged:
                s.kind = StepKind::Clean;
                s.title = side == Side::Cord ? "Replace the cord" : s_.at.deviceEnd() ? "Replace the device's port" : "Replace or repolish the port";
                s.carry = {"a spare for what is damaged"};
                break;
            case FaceCondition::Stale:
            case FaceCondition::NotSeen:
            case FaceCondition::Fit:
                s.title = fmt::format("{} {}", condition == FaceCondition::Stale ? "Look again" : "Look",
                                      (side == Side::Port ? "" : "at ") + faceWords(side));
                s.carry = carryFor(state_, face, false);
                break;
        }
        return s;
    }

    [[nodiscard]] Step sleeve() const
    {
        const std::string& connector = link_.cable->connectorAt(s_.at);
        const auto sticks = toolsFor(state_, connector, "sleeve");
        const std::string swab = sticks.empty() ? fmt::format("sticks or swabs for {}", connector) : sticks.front()->what.id;
        // nothing wet goes into a device
        std::vector<std::string> carry{swab, link_.cable->accessAt(s_.at) == Access::Device ? "used dry" : "alcohol"};
        const FaceId port{link_.id, s_.at, Side::Port};
        return {StepKind::Sleeve, link_.place(s_.at), link_.id, port, s_.at, "Clean the sleeve", link_.port(s_.at), std::move(carry)};
    }

    [[nodiscard]] Step mate() const
    {
        const int shared = link_.cable->ferruleFibres;
        const FaceId port{link_.id, s_.at, Side::Port};
        std::vector<std::string> cord;
        if (const auto pins = link_.cable->pinsAt(s_.at)) cord.emplace_back(*pins == Side::Cord ? "cord with guide pins" : "cord without guide pins");
        return {StepKind::Mate,
                link_.place(s_.at),
                link_.id,
                port,
                s_.at,
                shared > 1 ? fmt::format("Mate fibres {} to {}", link_.fibre, link_.fibre + shared - 1) : fmt::format("Mate fibre {}", link_.fibre),
                link_.port(s_.at),
                std::move(cord),
                "join it at once, or cap it"};
    }

    [[nodiscard]] Step reference() const
    {
        const bool fromA = s_.direction == Direction::AtoB;
        const std::string& place = fromA ? link_.cable->placeA : link_.cable->placeB;
        return {StepKind::Reference,
                std::string(bothEnds),
                link_.id,
                {},
                fromA ? End::A : End::B,
                fmt::format("Set the reference, source at {}", place),
                place,
                {"source", "meter", "reference cords"}};
    }

    [[nodiscard]] Step light(StepKind kind, std::string title, std::vector<std::string> carry) const
    {
        return {kind,
                std::string(bothEnds),
                link_.id,
                {},
                End::A,
                std::move(title),
                fmt::format("fibre {}, {}", link_.fibre, link_.colour),
                std::move(carry)};
    }

    [[nodiscard]] std::vector<std::string> traceCarry() const
    {
        const JobSettings& job = state_.plan->job;
        std::vector<std::string> out{"OTDR"};
        if (job.launchCord > Metre(0)) out.push_back(fmt::format("launch cord {:.0f} m", job.launchCord.value()));
        if (job.tailCord > Metre(0)) out.push_back(fmt::format("tail cord {:.0f} m", job.tailCord.value()));
        return out;
    }

    const JobState& state_;
    const Station& s_;
    const Link& link_;
};

std::string_view placeOf(const JobPlan& plan, const Strip& strip)
{
    return strip.light ? bothEnds : std::string_view(plan.cables[strip.cable].place(strip.at));
}

/// Which strips belong to the round of one place; what is done with light belongs to both ends of its cable.
std::vector<bool> stripsAt(const JobPlan& plan, std::string_view place)
{
    std::vector<bool> out;
    for (const auto& strip : plan.stations.strips) {
        const CablePlan& cable = plan.cables[strip.cable];
        out.push_back(place.empty() || (strip.light ? place == cable.placeA || place == cable.placeB : place == placeOf(plan, strip)));
    }
    return out;
}

}  // namespace

std::string_view StepsLeft::placeAt(std::size_t i) const { return placeOf(*state_->plan, state_->plan->stations.strips[station(i).strip]); }

Step stepOf(const JobState& state, const Station& station) { return StepMaker(state, station).run(); }

Round roundOf(const JobState& state, std::string_view place)
{
    const auto here = stripsAt(*state.plan, place);
    const auto& all = state.plan->stations.all;
    Round round;
    std::vector<std::uint32_t> left;
    for (std::uint32_t i = 0; i < all.size(); ++i) {
        if (!here[all[i].strip]) continue;
        ++round.all;
        if (state.stationsDone[i])
            ++round.done;
        else
            left.push_back(i);
    }
    round.left = {state, std::move(left)};
    return round;
}

RoundTally tallyOf(const JobState& state, std::string_view place)
{
    const auto here = stripsAt(*state.plan, place);
    const Stations& stations = state.plan->stations;
    std::vector<Tally> faces(stations.strips.size());
    std::map<What, Tally> light;
    for (std::size_t i = 0; i < stations.all.size(); ++i) {
        const Station& station = stations.all[i];
        if (!here[station.strip] || station.what == What::Sleeve || station.what == What::Mate) continue;
        Tally& tally = station.atFace() ? faces[station.strip] : light[station.what];
        ++tally.all;
        tally.done += state.stationsDone[i];
    }
    RoundTally out;
    for (std::size_t n = 0; n < faces.size(); ++n)
        if (here[n] && !stations.strips[n].light) out.strips.push_back({n, faces[n]});
    for (const auto& [what, kind, title] : {std::tuple(What::Reference, StepKind::Reference, "References"),
                                            {What::Loss, StepKind::Loss, "Insertion loss"},
                                            {What::RightFibre, StepKind::RightFibre, "Right fibre"},
                                            {What::Trace, StepKind::Trace, "Traces"},
                                            {What::Length, StepKind::Length, "Length"},
                                            {What::Sign, StepKind::Sign, "Sign-off"}})
        if (light.contains(what)) out.light.push_back({kind, title, light[what]});
    return out;
}

std::vector<std::string> carryList(const StepsLeft& steps, std::string_view place)
{
    std::vector<std::string> out;
    std::set<std::tuple<std::uint16_t, What, StepKind, std::string>> known;  // at one strip the same work asks for the same things
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const Station& station = steps.station(i);
        if (steps.placeAt(i) != place) continue;
        const Step step = steps[i];
        if (!known.emplace(station.strip, station.what, step.kind, step.title).second) continue;
        for (const auto& thing : step.carry)
            if (std::find(out.begin(), out.end(), thing) == out.end()) out.push_back(thing);
    }
    return out;
}

}  // namespace clendo
