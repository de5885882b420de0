#include "record/state/state.h"

#include <algorithm>

namespace clendo {

std::string_view name(FaceCondition condition)
{
    switch (condition) {
        case FaceCondition::NotSeen: return "not seen";
        case FaceCondition::Fit: return "fit";
        case FaceCondition::Work: return "needs work";
        case FaceCondition::Damaged: return "damaged";
        case FaceCondition::Stale: return "look again";
    }
    return "not seen";
}

const Look* FaceState::lastJudged() const
{
    const auto it = std::find_if(looks.rbegin(), looks.rend(), [](const Look& t) { return t.verdict.has_value(); });
    return it == looks.rend() ? nullptr : &*it;
}

const Look* FaceState::judgedBefore() const
{
    const auto judged = [](const Look& t) { return t.verdict.has_value(); };
    const auto last = std::find_if(looks.rbegin(), looks.rend(), judged);
    if (last == looks.rend()) return nullptr;
    const auto before = std::find_if(std::next(last), looks.rend(), judged);
    return before == looks.rend() ? nullptr : &*before;
}

const FaceState& JobState::face(const FaceId& id) const
{
    static const FaceState unseen;
    const FaceState* known = faces.find(id);
    return known ? *known : unseen;
}

const LinkState& JobState::state(std::string_view link) const
{
    static const LinkState nothing;
    const LinkState* known = linkStates.find(link);
    return known ? *known : nothing;
}

const FaceClass* JobState::faceClass(const FaceId& face) const
{
    const Link* l = link(face.link);
    const auto cord = l ? kit.end() : kit.find(face.link);
    if (!l && cord == kit.end()) return nullptr;
    const auto it = plan->criteria.classes.find(l ? l->cable->classAt(face.connection, face.side) : cord->second.what.className);
    return it == plan->criteria.classes.end() ? nullptr : &it->second;
}

std::string JobState::where(const FaceId& face) const
{
    if (const Link* l = link(face.link)) return l->where(face);
    if (face.side == Side::Port) return "port of " + face.link;
    if (const auto item = kit.find(face.link); item != kit.end() && item->second.what.kind == goldenKind) return "golden face " + face.link;
    return "test cord " + face.link + ", end " + face.connection.text();
}

std::string JobState::whereMated(const std::string& id, Connection at) const
{
    const Link* known = link(id);
    return known ? known->port(at) : where({id, at, Side::Port});
}

const ReferenceInForce* JobState::reference(Direction direction, Nanometre wavelength) const
{
    const auto it = references.find({direction, wavelength.value()});
    return it == references.end() || it->second.method != plan->job.method ? nullptr : &it->second;
}

}  // namespace clendo
