// What may be done now, and what is in the way.
#include "record/rules/gates.h"

#include <fmt/format.h>

#include <algorithm>

#include "record/state/ferrule.h"
#include "record/state/fitness.h"
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

}  // namespace clendo
