#include "record/state/reference_cords.h"

#include <algorithm>

#include "record/facts/entry.h"
#include "record/facts/reference_facts.h"

namespace clendo {

void disturbed(FactEffects& effects, const FaceId& face, std::string_view what, bool off)
{
    effects.light().onLine.erase(face);
    JobState& state = effects.state();
    if (state.references.empty() || !state.kit.contains(face.link)) return;
    const std::string why = fmt::format("{} {}{}", state.where(face), what, off ? ": the cord was off the source" : "");
    effects.voidReferences([&](const ReferenceSet& set) { return set.sourceEnd() == face || sourceOf(set.with, state) == face.link; }, why);
}

void cordTouches(FactEffects& effects, const LightEffects::Reference& on, const std::string& link, const EntryHead& entry)
{
    if (!on.set.freeEnd) return;
    const JobState& state = effects.state();
    const Link* l = state.link(link);
    if (!l) return;
    const End end = on.set.direction == Direction::AtoB ? End::A : End::B;
    const auto mated = [&](Connection at) { return state.state(link).mated.contains(at); };
    std::optional<FaceId> touched = FaceId{link, end, Side::Port};
    if (mated(end)) {
        const auto planned = l->cable->connections();
        const bool reachable = std::find(planned.begin(), planned.end(), Connection::device(end)) != planned.end() && !mated(Connection::device(end));
        touched = reachable ? std::optional(FaceId{link, Connection::device(end), Side::Cord}) : std::nullopt;
    }
    if (!touched) {
        effects.light().onLine.erase(*on.set.freeEnd);
        return;
    }
    const auto there = effects.light().onLine.find(*on.set.freeEnd);
    if (there != effects.light().onLine.end() && there->second == *touched) return;
    Joined{*on.set.freeEnd, *touched}.apply(effects, entry);
    effects.light().onLine.insert_or_assign(*on.set.freeEnd, *touched);
}

}  // namespace clendo
