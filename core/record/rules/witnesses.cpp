#include "record/rules/witnesses.h"

#include <fmt/format.h>

namespace clendo {
namespace {

using Faces = Witnesses::Faces;

/// How a face was when the shot was taken, by its pictures.
Faces seenThen(const JobState& state, const FaceId& id, const Filed<TraceShot>& shot)
{
    const FaceState& face = state.face(id);
    const Look* look = face.lastJudged();
    if (!look || !look->verdict) return Faces::NotKnown;
    if (!look->verdict->fit) return face.cleanedSince.empty() ? Faces::Dirty : Faces::NotKnown;
    const auto& shots = state.state(shot.what.link).facesOfShots;
    if (const auto met = shots.find(shot.entry); met != shots.end())
        if (const auto then = met->second.find(id); then != met->second.end()) return then->second.empty() ? Faces::Clean : Faces::NotKnown;
    return face.mated && face.unfitWhenMated.empty() && look->at <= shot.at ? Faces::Clean : Faces::NotKnown;
}

/// The faces that met at a connection while it was shot; nothing for one that nobody named.
std::vector<std::optional<FaceId>> facesAt(const JobState& state, const Link& link, Connection at, const TraceShot& shot)
{
    std::vector<std::optional<FaceId>> out{FaceId{link.id, at, Side::Port}};
    const auto end = at.panelEnd();
    if (!end || state.state(link.id).mated.contains(at))
        out.emplace_back(FaceId{link.id, at, Side::Cord});
    else
        out.push_back((shot.direction == Direction::AtoB) == (*end == End::A) ? shot.launchEnd : shot.tailEnd);
    return out;
}

}  // namespace

std::string Witnesses::contradiction() const
{
    if (faces == Faces::Dirty && !loses && !reflects)
        return fmt::format(
            "{}: a face was seen unfit, yet it neither loses nor reflects too much. Look again: it may be another face's picture, or the dirt lies "
            "outside the light and still moves.",
            name);
    if (faces != Faces::Clean || (!loses && !reflects)) return {};
    if (loses && reflects)
        return fmt::format(
            "{}: the faces were seen clean, yet it loses and reflects too much: likely a gap between them. Seat the plugs again, clean the sleeve, "
            "then change the adapter.",
            name);
    if (reflects)
        return fmt::format(
            "{}: the faces were seen clean, yet it reflects too much: likely the sleeve, a small gap, or an angled face on a flat one.", name);
    return fmt::format(
        "{}: the faces were seen clean and it does not reflect too much, yet it loses too much: likely a core off its centre, or fibres that do not "
        "match; the other direction and another cord tell which.",
        name);
}

std::vector<Witnesses> witnessesOf(const JobState& state, const Link& link, const Filed<TraceShot>& shot)
{
    std::vector<Witnesses> out;
    if (!shot.what.found.span) return out;
    for (const auto& row : matchPlan(state, link, shot.what)) {
        if (!row.connection || !row.found || row.notMeasurable || (!row.loss && !row.reflectance)) continue;
        Witnesses w;
        w.name = row.name;
        w.loses = row.overLimit();
        w.reflects = row.reflectsTooMuch();
        bool allClean = true, dirty = false;
        for (const auto& face : facesAt(state, link, *row.connection, shot.what)) {
            const Faces seen = face ? seenThen(state, *face, shot) : Faces::NotKnown;
            allClean = allClean && seen == Faces::Clean;
            dirty = dirty || seen == Faces::Dirty;
        }
        w.faces = dirty ? Faces::Dirty : allClean ? Faces::Clean : Faces::NotKnown;
        // silent only where both could have spoken
        if (w.faces == Faces::Dirty && (!row.loss || !row.reflectanceLimit)) continue;
        out.push_back(std::move(w));
    }
    return out;
}

}  // namespace clendo
