// What may be done now, and what is in the way.
#include "record/rules/gates.h"

#include <fmt/format.h>

#include <algorithm>

#include "record/state/ferrule.h"
#include "record/state/state.h"

namespace clendo {

std::optional<std::string> coreMix(const JobState& state, const Link& link, Connection at)
{
    const auto words = [](CoreKind core) {
        return core == CoreKind::SingleMode ? "single-mode" : core == CoreKind::Multimode50 ? "50 µm" : "62.5 µm";
    };
    std::optional<CoreKind> first;
    std::string firstWhere;
    for (const Side side : {Side::Cord, Side::Port}) {
        const FaceId id{link.id, at, side};
        const Look* seen = state.face(id).lastJudged();
        if (!seen || !seen->seen.measured.core || seen->seen.measured.coreInferred) continue;
        const CoreKind core = *seen->seen.measured.core;
        if (first && core != *first)
            return fmt::format("cores are mixed: {}, shows a {} core; {}, a {} one", firstWhere, words(*first), link.where(id), words(core));
        // OM1 has 62.5 µm, every other multimode fibre 50
        const std::string& fibre = side == Side::Cord ? link.cable->cordFibreAt(at) : link.cable->fibre;
        const CoreKind planned = !isMultimode(fibre) ? CoreKind::SingleMode : fibre == "OM1" ? CoreKind::Multimode62 : CoreKind::Multimode50;
        if (core != planned) return fmt::format("{}, shows a {} core; the plan says {} ({})", link.where(id), words(core), words(planned), fibre);
        first = core;
        firstWhere = link.where(id);
    }
    return std::nullopt;
}

std::string whyNotFit(const FaceState& face, FaceCondition condition)
{
    switch (condition) {
        case FaceCondition::Fit: return {};
        case FaceCondition::NotSeen: return "was not looked at";
        case FaceCondition::Work: return "needs cleaning";
        case FaceCondition::Damaged: return "is damaged";
        case FaceCondition::Stale: break;
    }
    if (!face.cleanedSince.empty()) return "was cleaned and not looked at again";
    if (face.waiting == Waiting::OpenTooLong) return "was left open too long and not looked at again";
    if (face.waiting == Waiting::CoveredTooLong) return fmt::format("was {} for long and not looked at again", face.covered);
    if (face.waiting == Waiting::NotKnown) return "was seen before a clock was set back: nobody knows how long ago";
    if (!face.handled.empty()) return fmt::format("was {} and not looked at again", face.handled);
    return "must be looked at again";
}

std::string whyNotFit(const JobState& state, const FaceId& id)
{
    const FaceState& face = state.face(id);
    if (face.condition == FaceCondition::Stale && face.suspicion && face.cleanedSince.empty() && face.handled.empty() &&
        face.waiting == Waiting::InTime)
        return fmt::format("may carry dirt: {} was found bad, and {}", state.where(face.suspicion->found),
                           face.suspicion->way.size() < 2 ? "they touched" : "a cord or port touched both");
    return whyNotFit(face, face.condition);
}

namespace {

bool isTrusted(const JobState& state, const FaceId& id)
{
    const FaceState& face = state.face(id);
    if (face.condition == FaceCondition::Fit) return true;
    return face.condition == FaceCondition::NotSeen && face.covered == "factory cap" && state.policy("caps") == "trust";
}

}  // namespace

bool bothFit(const JobState& state, const Link& link, Connection at)
{
    return isTrusted(state, decidingFace(state, {link.id, at, Side::Cord})) && isTrusted(state, decidingFace(state, {link.id, at, Side::Port}));
}

Result<void> mayMate(const JobState& state, const Link& link, Connection at)
{
    if (const auto mix = coreMix(state, link, at))
        return failure(Error::Code::StepForbidden, fmt::format("Do not mate: {}. Find the right cord, or correct the plan.", *mix));
    if (const auto pins = pinMix(state, link, at)) return failure(Error::Code::StepForbidden, fmt::format("Do not mate: {}.", *pins));
    for (const Side side : {Side::Cord, Side::Port}) {
        const FaceId id = decidingFace(state, {link.id, at, side});
        if (isTrusted(state, id)) continue;
        return failure(Error::Code::StepRefused,
                       fmt::format("Not yet: {}, {}. Both faces must be seen fit before they touch.", state.where(id), whyNotFit(state, id)));
    }
    if (state.policy("sleeve") == "step" && !state.state(link.id).sleeves.contains(at))
        return failure(Error::Code::StepRefused,
                       fmt::format("Not yet: the sleeve of {} was not cleaned. Swab it, back and forth, then dry.", link.port(at)));
    return {};
}

LossTask lossTaskOf(const Link& link, ReferenceMethod method, const std::vector<Reading>& readings)
{
    return {link.id,
            {link.cable->fibre, link.cable->length, link.cable->testedConnections(), static_cast<int>(link.cable->splices.size())},
            method,
            {},
            readings};
}

}  // namespace clendo
