#include "record/facts/contact_facts.h"

#include "record/state/fact_effects.h"
#include "record/state/ferrule.h"
#include "record/state/reference_cords.h"

namespace clendo {

std::string Mated::sentence(const JobState& state) const
{
    return fmt::format("Mated {}{}", state.whereMated(link, connection), reason.empty() ? "" : fmt::format(", anyway: {}", reason));
}

void Mated::apply(FactEffects& effects, const EntryHead& entry) const
{
    JobState& state = effects.state();
    for (const auto& port : ferruleOf(state, {link, connection, Side::Port})) {
        const FaceId cord{port.link, port.connection, Side::Cord};
        effects.link(port.link).mated.insert_or_assign(connection, Filed<Mated>{*this, entry.hash, entry.at()});
        for (const auto& id : {cord, port}) {
            FaceState& face = effects.touch(id);
            if (!face.mated) {
                face.unfitWhenMated = effects.whyNotFitThen(face, entry.at());
                face.cappedWhenMated = face.covered == "factory cap";
            }
            face.mated = true;
            face.covered.clear();
        }
        effects.event(FaceEvent::Kind::Joined, cord, port, entry);
    }
}

std::string Joined::sentence(const JobState& state) const { return fmt::format("{} touched {}", state.where(a), state.where(b)); }

void Joined::apply(FactEffects& effects, const EntryHead& entry) const
{
    // a fit face does no harm to another; after any other partner a face must be seen again
    JobState& state = effects.state();
    disturbed(effects, a, "touched " + state.where(b));
    disturbed(effects, b, "touched " + state.where(a));
    FaceState &first = effects.touch(a), &second = effects.touch(b);
    const bool aFit = conditionOf(first) == FaceCondition::Fit, bFit = conditionOf(second) == FaceCondition::Fit;
    for (const auto& [id, face] : {std::pair<const FaceId&, FaceState&>(a, first), {b, second}}) {
        if (face.mated) effects.open(id);
        if (const auto cord = state.kit.find(id.link); cord != state.kit.end()) ++cord->second.used;
    }
    if (!bFit) first.handled = "joined with " + state.where(b) + ", which was not fit";
    if (!aFit) second.handled = "joined with " + state.where(a) + ", which was not fit";
    effects.event(FaceEvent::Kind::Joined, a, b, entry);
}

}  // namespace clendo
