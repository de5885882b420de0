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

void cordTouches(FactEffects& effects, const std::optional<FaceId>& free, const std::string& link, End end, const EntryHead& entry)
{
    if (!free) return;
    const JobState& state = effects.state();
    const Link* l = state.link(link);
    if (!l) return;
    const auto mated = [&](Connection at) { return state.state(link).mated.contains(at); };
    std::optional<FaceId> touched = FaceId{link, end, Side::Port};
    if (mated(end)) {
        const auto planned = l->cable->connections();
        const bool reachable = std::find(planned.begin(), planned.end(), Connection::device(end)) != planned.end() && !mated(Connection::device(end));
        touched = reachable ? std::optional(FaceId{link, Connection::device(end), Side::Cord}) : std::nullopt;
    }
    auto& onLine = effects.light().onLine;
    if (!touched) {
        onLine.erase(*free);
        return;
    }
    const auto there = onLine.find(*free);
    if (there != onLine.end() && there->second == *touched) return;
    std::erase_if(onLine, [&](const auto& other) { return other.second == *touched; });  // it makes room
    Joined{*free, *touched}.apply(effects, entry);
    onLine.insert_or_assign(*free, *touched);
}

}  // namespace clendo
