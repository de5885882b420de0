#include "record/advice/round.h"

#include <fmt/format.h>

#include <algorithm>
#include <tuple>

#include "record/rules/kit.h"
#include "record/state/ferrule.h"

namespace clendo {
namespace {

class RoundMaker {
public:
    RoundMaker(const JobState& state, std::string_view only) : state_(state), only_(only) {}

    Round run()
    {
        for (const std::string& place : places()) atPlace(place);
        for (const auto& cable : state_.cables)
            if (only_.empty() || only_ == cable.placeA || only_ == cable.placeB) light(cable);
        return std::move(round_);
    }

private:
    void step(bool done, Step s)
    {
        ++round_.all;
        if (done)
            ++round_.done;
        else
            round_.left.push_back(std::move(s));
    }

    [[nodiscard]] std::vector<std::string> places() const
    {
        auto all = placesOf(state_);
        if (!only_.empty()) std::erase_if(all, [&](const auto& p) { return p != only_; });
        return all;
    }

    /// Everything at one place, connector by connector, access by access, rack by rack, panel by panel. A tip for cord ends and one for adapters are
    /// two: by tips, all cord ends of a panel come before what lies behind its adapters.
    void atPlace(const std::string& place)
    {
        struct Panel {
            const CablePlan* cable;
            Connection at;
            /// First what asks for another tip or tool, then the way along the racks.
            std::string ferrule;  ///< what a tip fits: 2.5 mm, 1.25 mm, a rectangular family
            [[nodiscard]] std::tuple<const std::string&, Access, const std::string&> order() const
            {
                return {ferrule, cable->accessAt(at), cable->rackAt(at)};
            }
        };
        std::vector<Panel> panels;
        for (const auto& cable : state_.cables)
            for (const Connection at : cable.connections())
                if (cable.place(at) == place) panels.push_back({&cable, at, ferruleOfFamily(cable.connectorAt(at))});
        std::stable_sort(panels.begin(), panels.end(), [](const Panel& a, const Panel& b) { return a.order() < b.order(); });
        const bool byTips = state_.policy("order") == "tips";
        for (const auto& panel : panels) {
            const std::string& connector = panel.cable->connectorAt(panel.at);
            const auto sticks = toolsFor(state_, connector, "sleeve");
            const std::string swab = sticks.empty() ? fmt::format("sticks or swabs for {}", connector) : sticks.front()->what.id;
            std::vector<const Link*> links;
            for (const auto& link : state_.links)
                if (link.cable == panel.cable && (link.fibre - 1) % std::max(1, panel.cable->ferruleFibres) == 0) links.push_back(&link);
            if (byTips)
                for (const Link* link : links) look(*link, panel.at, Side::Cord);
            for (const Link* link : links) {
                if (!byTips) look(*link, panel.at, Side::Cord);
                look(*link, panel.at, Side::Port);
                join(*link, panel.at, swab);
            }
        }
    }

    /// By what a scope's tip fits: families of one ferrule share it, a rectangular one has its own.
    [[nodiscard]] std::string ferruleOfFamily(const std::string& connector) const
    {
        const ConnectorFamily* family = familyNamed(state_.connectors, connector);
        return family && family->ferrule ? fmt::format("{:06.0f}", family->ferrule->value()) : connector;
    }

    /// Nothing wet goes into a device.
    static std::vector<std::string> sleeveCarry(const CablePlan& cable, Connection at, const std::string& swab)
    {
        if (cable.accessAt(at) == Access::Device) return {swab, "used dry"};
        return {swab, "alcohol"};
    }

    static std::string faceWords(Connection at, Side side)
    {
        if (at.deviceEnd()) return side == Side::Port ? "inside the device" : "the cord's far end";
        return side == Side::Port ? "behind the adapter" : "the cord's end";
    }

    /// A ferrule with several fibres is one thing to look at, to clean and to mate: its steps stand at its first fibre.
    void look(const Link& link, Connection at, Side side)
    {
        const bool mated = state_.state(link.id).mated.contains(at);
        const FaceId face = decidingFace(state_, {link.id, at, side});
        const Link& deciding = *state_.link(face.link);
        const auto condition = state_.face(face).condition;
        Step s{StepKind::Look, link.place(at), face.link, face, at, {}, deciding.where(face), {}, {}};
        switch (condition) {
            case FaceCondition::Work:
                s.kind = StepKind::Clean;
                s.title = "Clean " + faceWords(at, side);
                s.carry = carryFor(state_, face, true);
                break;
            case FaceCondition::Damaged:
                s.kind = StepKind::Clean;
                s.title = side == Side::Cord ? "Replace the cord" : at.deviceEnd() ? "Replace the device's port" : "Replace or repolish the port";
                s.carry = {"a spare for what is damaged"};
                break;
            case FaceCondition::Stale:
            case FaceCondition::NotSeen:
            case FaceCondition::Fit:
                s.title = fmt::format("{} {}", condition == FaceCondition::Stale ? "Look again" : "Look",
                                      (side == Side::Port ? "" : "at ") + faceWords(at, side));
                s.carry = carryFor(state_, face, false);
                break;
        }
        step(condition == FaceCondition::Fit || (mated && !state_.face(face).suspicion), std::move(s));
    }

    void join(const Link& link, Connection at, const std::string& swab)
    {
        const int shared = link.cable->ferruleFibres;
        const bool mated = state_.state(link.id).mated.contains(at);
        const FaceId port{link.id, at, Side::Port};
        if (state_.policy("sleeve") == "step")
            step(mated || state_.state(link.id).sleeves.contains(at),
                 {StepKind::Sleeve, link.place(at), link.id, port, at, "Clean the sleeve", link.where(port), sleeveCarry(*link.cable, at, swab)});
        std::vector<std::string> cord;
        if (const auto pins = link.cable->pinsAt(at)) cord.emplace_back(*pins == Side::Cord ? "cord with guide pins" : "cord without guide pins");
        step(mated, {StepKind::Mate, link.place(at), link.id, port, at,
                     shared > 1 ? fmt::format("Mate fibres {} to {}", link.fibre, link.fibre + shared - 1) : fmt::format("Mate fibre {}", link.fibre),
                     link.where(port), std::move(cord), "join it at once, or cap it"});
    }

    void light(const CablePlan& cable)
    {
        const FaceId none;
        const auto wavelengths = state_.wavelengthsFor(cable);
        for (const Direction direction : state_.lossDirections()) {
            bool set = true;
            for (const int nm : wavelengths) set = set && state_.reference(direction, Nanometre(nm));
            const std::string& place = direction == Direction::AtoB ? cable.placeA : cable.placeB;
            step(set, {StepKind::Reference,
                       "Both ends",
                       cable.id + "/1",
                       none,
                       direction == Direction::AtoB ? End::A : End::B,
                       fmt::format("Set the reference, source at {}", place),
                       place,
                       {"source", "meter", "reference cords"}});
        }
        for (const auto& link : state_.links) {
            if (link.cable != &cable) continue;
            const LinkState& s = state_.state(link.id);
            const auto& signature = s.signature;
            const std::string fibre = fmt::format("fibre {}, {}", link.fibre, link.colour);
            const auto add = [&](bool is, StepKind kind, std::string title, std::vector<std::string> carry) {
                step(is, {kind, "Both ends", link.id, none, End::A, std::move(title), fibre, std::move(carry)});
            };
            // what stands signed was complete, or was signed all the same
            const bool standing = signature && signature->stands;
            const LightDone done = standing ? LightDone{true, true, true, true} : s.done;
            add(done.loss, StepKind::Loss, fmt::format("Read the loss of fibre {}", link.fibre), {"source", "meter"});
            if (state_.policy("right_fibre") == "prove")
                add(done.rightFibre, StepKind::RightFibre, fmt::format("Prove that it is fibre {}", link.fibre), {"source", "meter"});
            if (state_.policy("tier") == "2")
                add(done.traces && done.length, StepKind::Trace, fmt::format("Shoot fibre {}", link.fibre), traceCarry());
            else
                add(done.length, StepKind::Length, fmt::format("Measure the length of fibre {}", link.fibre), {});
            add(standing, StepKind::Sign, fmt::format("{} fibre {}", signature ? "Sign again" : "Sign off", link.fibre), {});
        }
    }

    [[nodiscard]] std::vector<std::string> traceCarry() const
    {
        std::vector<std::string> out{"OTDR"};
        if (state_.job.launchCord > Metre(0)) out.push_back(fmt::format("launch cord {:.0f} m", state_.job.launchCord.value()));
        if (state_.job.tailCord > Metre(0)) out.push_back(fmt::format("tail cord {:.0f} m", state_.job.tailCord.value()));
        return out;
    }

    const JobState& state_;
    const std::string only_;
    Round round_;
};

}  // namespace

Round roundOf(const JobState& state, std::string_view place) { return RoundMaker(state, place).run(); }

std::vector<std::string> placesOf(const JobState& state)
{
    std::vector<std::string> out;
    const auto add = [&](const std::string& place) {
        if (std::find(out.begin(), out.end(), place) == out.end()) out.push_back(place);
    };
    for (const auto& cable : state.cables) add(cable.placeA);
    for (const auto& cable : state.cables)
        for (const auto& panel : cable.inner) add(panel.name);
    for (const auto& cable : state.cables) add(cable.placeB);
    return out;
}

std::vector<std::string> carryList(const std::vector<Step>& steps, std::string_view place)
{
    std::vector<std::string> out;
    for (const auto& step : steps)
        if (step.place == place)
            for (const auto& thing : step.carry)
                if (std::find(out.begin(), out.end(), thing) == out.end()) out.push_back(thing);
    return out;
}

}  // namespace clendo
