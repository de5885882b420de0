// The parts of a link's record that are seen and joined: its faces, its ends.
#include "record/rules/link_face_parts.h"

#include <fmt/format.h>

#include "record/journal/time_text.h"
#include "record/rules/gates.h"
#include "record/state/fitness.h"

namespace clendo {
namespace {

/// The verdict of a look that holds: what the criteria said of it.
PartVerdict ofLook(const Look& look)
{
    return !look.verdict->fit ? PartVerdict::Fail : look.verdict->nearLimit ? PartVerdict::NearLimit : PartVerdict::Pass;
}

/// Whether all that is known of a face is its factory cap, and the job trusts that.
bool trustedCap(const JobState& state, const FaceState& face)
{
    const bool capped = face.mated ? face.cappedWhenMated : face.covered == "factory cap";
    return face.condition == FaceCondition::NotSeen && capped && state.policy("caps") == "trust";
}

/// What is not known of a face, or against it; empty where it was seen fit and not touched since (but by its partner).
std::string objection(const JobState& state, const FaceId& id, const FaceState& face, Ageing ageing)
{
    if (face.mated && !face.unfitWhenMated.empty()) return fmt::format("was mated anyway: it {}", face.unfitWhenMated);
    const bool aged = face.waiting != Waiting::InTime && face.handled.empty() && face.cleanedSince.empty() && !face.suspicion;
    return aged && ageing == Ageing::Left ? std::string() : whyNotFit(state, id);
}

Part facePart(const JobState& state, const Link& link, const FaceId& id, Ageing ageing)
{
    const FaceState& face = state.face(id);
    Part part{PartKind::Face, link.where(id)};
    const Look* look = face.lastJudged();
    const std::string against = objection(state, id, face, ageing);
    if (look) {
        part.entries.push_back(look->entry);
        part.says = fmt::format("{} {}", look->verdict->fit ? "passed" : "failed", timeText(look->at));
        for (const auto& o : look->overruled) part.says += fmt::format(", overruled by hand: {} ({})", name(o.as), o.reason);
    }
    if (against.empty()) {
        part.verdict = ofLook(*look);
        return part;
    }
    if (trustedCap(state, face)) {
        part.wanted = false;
        part.verdict = PartVerdict::NotAsked;
        part.lacks.push_back(fmt::format("{}: not looked at, its factory cap was trusted", part.about));
        return part;
    }
    part.lacks.push_back(fmt::format("{}: {}", part.about, against));
    // what is still to be cleaned is not done; what is damaged, or went in dirty, fails
    if (face.condition == FaceCondition::Damaged || (face.mated && look && !look->verdict->fit)) part.verdict = PartVerdict::Fail;
    return part;
}

}  // namespace

void addFaceParts(Completeness& out, const JobState& state, const Link& link, Ageing ageing)
{
    for (const auto& id : link.faces()) {
        out.parts.push_back(facePart(state, link, id, ageing));
        if (const Look* look = state.face(id).lastJudged())
            for (const auto& o : look->overruled)
                out.exceptions.push_back(fmt::format("{}: a finding was overruled by hand, {}: {}", link.where(id), name(o.as), o.reason));
    }
}

void addMatingParts(Completeness& out, const JobState& state, const Link& link)
{
    const LinkState& s = state.state(link.id);
    for (const Connection at : link.cable->connections()) {
        Part part{PartKind::Mating, link.cable->words(at)};
        const auto mated = s.mated.find(at);
        if (mated == s.mated.end()) {
            part.lacks.push_back(fmt::format("{} was not mated", part.about));
        } else {
            part.entries.push_back(mated->second.entry);
            part.says = fmt::format("mated {}", timeText(mated->second.at));
            if (const auto& reason = mated->second.what.reason; !reason.empty())
                out.exceptions.push_back(fmt::format("{} was mated anyway: {}", part.about, reason));
        }
        if (const auto mix = coreMix(state, link, at)) {
            part.says += fmt::format("{}{}", part.says.empty() ? "" : "; ", *mix);
            part.verdict = PartVerdict::Fail;
        }
        if (const auto sleeve = s.sleeves.find(at); sleeve != s.sleeves.end()) {
            part.entries.push_back(sleeve->second);
            part.says += part.says.empty() ? "sleeve cleaned" : ", sleeve cleaned before";
        } else if (state.policy("sleeve") == "step") {
            part.lacks.push_back(fmt::format("the sleeve at {} was not cleaned", part.about));
        }
        out.parts.push_back(std::move(part));
    }
}

}  // namespace clendo
