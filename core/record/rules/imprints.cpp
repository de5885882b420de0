#include "record/rules/imprints.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

#include "face/judge/compare_looks.h"

namespace clendo {
namespace {

using Brought = PressedTogether::Brought;

/// The first look after an event of the journal, and the last before it.
const Look* lookAfter(const FaceState& face, std::size_t event)
{
    const auto it = std::find_if(face.looks.begin(), face.looks.end(), [&](const Look& l) { return l.verdict && l.event && *l.event > event; });
    return it == face.looks.end() ? nullptr : &*it;
}
const Look* lookBefore(const FaceState& face, std::size_t event)
{
    const Look* last = nullptr;
    for (const Look& look : face.looks)
        if (look.verdict && look.event && *look.event < event) last = &look;
    return last;
}

/// How many of these findings were there at the look before; nothing: there was none.
std::optional<int> thereBefore(const Look* before, const Look& after, const std::set<int>& ids)
{
    if (!before) return std::nullopt;
    const auto compared = face::compareLooks(before->seen.measured.findings, after.seen.measured.findings);
    return static_cast<int>(std::count_if(ids.begin(), ids.end(), [&](int id) { return compared.ofLater(id) == face::Fate::Stayed; }));
}

std::string whoBrought(const JobState& state, const PressedTogether& p)
{
    const auto brought = [&](const FaceId& face) {
        const std::string where = state.where(face);
        return fmt::format("They were on {} before the two touched and not on the other, as far as both were seen: {} seems to have brought them.",
                           where, where);
    };
    switch (p.brought) {
        case Brought::TheFirst: return brought(p.first);
        case Brought::TheSecond: return brought(p.second);
        case Brought::Neither: return "Neither had them when it was last seen before: what made them came in between.";
        case Brought::NotKnown: return "Which of the two had them first is not known.";
    }
    return {};
}

}  // namespace

std::vector<PressedTogether> pressedTogether(const JobState& state, const FaceId& id)
{
    std::vector<PressedTogether> out;
    std::set<FaceId> done;
    std::size_t n = 0;
    for (const auto& event : state.events) {
        const std::size_t here = n++;
        if (event.kind != FaceEvent::Kind::Joined || (event.a != id && event.b != id) || event.a == event.b) continue;
        const FaceId other = event.a == id ? event.b : event.a;
        const Look *mine = lookAfter(state.face(id), here), *theirs = lookAfter(state.face(other), here);
        if (!mine || !theirs) continue;
        PressedTogether p{id, other, event.at, face::imprintOf(mine->seen.measured.findings, theirs->seen.measured.findings), Brought::NotKnown, {}};
        if (!p.marks.believed() || !done.insert(other).second) continue;
        std::set<int> own, opposite;
        for (const auto& pair : p.marks.pairs) {
            own.insert(pair.first);
            opposite.insert(pair.second);
        }
        const auto before = thereBefore(lookBefore(state.face(id), here), *mine, own),
                   beforeThere = thereBefore(lookBefore(state.face(other), here), *theirs, opposite);
        const int all = static_cast<int>(p.marks.pairs.size());
        const auto most = [&](int k) { return 3 * k >= 2 * all; };
        const auto few = [&](int k) { return 5 * k <= all; };
        if (before && beforeThere)
            p.brought = most(*before) && few(*beforeThere)   ? Brought::TheFirst
                        : most(*beforeThere) && few(*before) ? Brought::TheSecond
                        : few(*before) && few(*beforeThere)  ? Brought::Neither
                                                             : Brought::NotKnown;
        p.sentence = fmt::format(
            "{} marks of {} and of {} are mirror images of each other (fewer than one pair of strangers in 10,000 shows so many): "
            "they were pressed together. {}",
            all, state.where(id), state.where(other), whoBrought(state, p));
        out.push_back(std::move(p));
    }
    return out;
}

}  // namespace clendo
