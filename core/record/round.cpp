#include "record/round.h"

#include <fmt/format.h>

#include "record/ferrule.h"

namespace clendo {
namespace {

class RoundMaker {
public:
    explicit RoundMaker(const JobState& state) : state_(state) {}

    Round run()
    {
        for (const auto& cable : state_.cables) {
            for (const End end : {End::A, End::B})
                for (const auto& link : state_.links)
                    if (link.cable == &cable) atEnd(link, end);
            light(cable);
        }
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

    /// A ferrule with several fibres is one thing to look at, to clean and to mate: its steps stand at its first fibre.
    void atEnd(const Link& link, End end)
    {
        const int shared = link.cable->ferruleFibres;
        if ((link.fibre - 1) % shared != 0) return;
        const bool mated = state_.state(link.id).mated.contains(end);
        for (const Side side : {Side::Cord, Side::Port}) {
            const FaceId face = decidingFace(state_, {link.id, end, side});
            const Link& deciding = *state_.link(face.link);
            const auto condition = state_.face(face).condition;
            Step s{StepKind::Look, link.place(end), face.link, face, end, {}, deciding.where(face), {}};
            const std::string tip = fmt::format("tip: {}, {}", link.cable->connector, side == Side::Port ? "behind an adapter" : "cord end");
            switch (condition) {
                case FaceCondition::Work:
                    s.kind = StepKind::Clean;
                    s.title = side == Side::Port ? "Clean behind the adapter" : "Clean the cord's end";
                    s.carry = fmt::format("tape pen or stick for {}, {}", link.cable->connector, tip);
                    break;
                case FaceCondition::Damaged:
                    s.kind = StepKind::Clean;
                    s.title = side == Side::Port ? "Replace or repolish the port" : "Replace the cord";
                    s.carry = "spare";
                    break;
                case FaceCondition::Stale:
                case FaceCondition::NotSeen:
                case FaceCondition::Fit:
                    s.title = fmt::format("{} {}", condition == FaceCondition::Stale ? "Look again" : "Look",
                                          side == Side::Port ? "behind the adapter" : "at the cord's end");
                    s.carry = tip;
                    break;
            }
            step(mated || condition == FaceCondition::Fit, std::move(s));
        }
        const FaceId port{link.id, end, Side::Port};
        step(mated, {StepKind::Mate, link.place(end), link.id, port, end,
                     shared > 1 ? fmt::format("Mate fibres {} to {}", link.fibre, link.fibre + shared - 1) : fmt::format("Mate fibre {}", link.fibre),
                     link.where(port), "nothing: join it at once, or cap it"});
    }

    void light(const CablePlan& cable)
    {
        const FaceId none;
        const auto wavelengths = state_.wavelengthsFor(cable);
        for (const Direction direction : {Direction::AtoB, Direction::BtoA}) {
            bool set = true;
            for (const int nm : wavelengths) set = set && state_.references.contains({direction, double(nm)});
            const std::string& place = direction == Direction::AtoB ? cable.placeA : cable.placeB;
            step(set, {StepKind::Reference, "Both ends", cable.id + "/1", none, direction == Direction::AtoB ? End::A : End::B,
                       fmt::format("Set the reference, source at {}", place), place, "source, meter, reference cords"});
        }
        for (const auto& link : state_.links) {
            if (link.cable != &cable) continue;
            const LinkState& s = state_.state(link.id);
            const std::size_t wanted = 2 * wavelengths.size();
            std::size_t have = 0;
            if (s.loss)
                for (const auto& r : s.loss->results) have += (r.lossAb ? 1U : 0U) + (r.lossBa ? 1U : 0U);
            const std::string fibre = fmt::format("fibre {}, {}", link.fibre, link.colour);
            step(have >= wanted,
                 {StepKind::Loss, "Both ends", link.id, none, End::A, fmt::format("Read the loss of fibre {}", link.fibre), fibre, "source, meter"});
            step(!s.traces.empty(),
                 {StepKind::Trace, "Both ends", link.id, none, End::A, fmt::format("Shoot fibre {}", link.fibre), fibre,
                  fmt::format("OTDR, launch cord {:.0f} m, tail cord {:.0f} m", state_.job.launchCord.value(), state_.job.tailCord.value())});
            step(s.signedAt.has_value(),
                 {StepKind::Sign, "Both ends", link.id, none, End::A, fmt::format("Sign off fibre {}", link.fibre), fibre, ""});
        }
    }

    const JobState& state_;
    Round round_;
};

}  // namespace

Round roundOf(const JobState& state) { return RoundMaker(state).run(); }

}  // namespace clendo
