#include "record/advice/next_step.h"

#include <algorithm>

#include "record/rules/gates.h"

namespace clendo {
namespace {

bool canBeDone(const JobState& state, const Step& step)
{
    const Link* link = state.link(step.link);
    switch (step.kind) {
        case StepKind::Clean: return state.face(step.face).condition != FaceCondition::Damaged;
        case StepKind::Mate: return !link || mayMate(state, *link, step.connection);
        case StepKind::Sleeve: return !link || bothFit(state, *link, step.connection);  // it is swabbed when the connector is about to go in
        default: return true;
    }
}

}  // namespace

namespace {

/// The place in `left` of what to do next, of what is not taken yet.
std::optional<std::size_t> next(const JobState& state, const StepsLeft& left, const Standing& at, const std::vector<std::size_t>& taken)
{
    std::optional<std::size_t> first;
    const Link* here = state.link(at.chosen.link);
    for (std::size_t i = 0; i < left.size(); ++i) {
        const Station& station = left.station(i);
        // once something can be done, only the next of the same kind beside it matters
        const bool beside = here && state.plan->links[station.link].cable == here->cable && station.at == at.chosen.connection;
        if ((first && !beside) || std::find(taken.begin(), taken.end(), i) != taken.end()) continue;
        const Step step = left[i];
        const bool same = step.kind != StepKind::Mate && at.atFace && step.face == at.chosen && !step.face.link.empty();
        if (same || !canBeDone(state, step)) continue;
        if (!first) {
            first = i;
            if (!at.atFace || (step.kind != StepKind::Look && step.kind != StepKind::Clean)) return first;
        }
        const Link* of = state.link(step.link);
        if (step.kind == at.working && here && of && of->cable == here->cable && step.face.connection == at.chosen.connection &&
            step.face.side == at.chosen.side && of->fibre > here->fibre)
            return i;
    }
    return first;
}

}  // namespace

std::optional<Step> nextStep(const JobState& state, const StepsLeft& left, const Standing& at)
{
    const auto found = next(state, left, at, {});
    return found ? std::optional(left[*found]) : std::nullopt;
}

std::vector<Step> nextSteps(const JobState& state, const StepsLeft& left, const Standing& at)
{
    constexpr std::size_t few = 3;
    std::vector<std::size_t> taken;
    std::vector<Step> out;
    for (Standing standing = at; out.size() < few;) {
        const auto found = next(state, left, standing, taken);
        if (!found) break;
        taken.push_back(*found);
        const Step& step = out.emplace_back(left[*found]);
        standing = {step.face, step.kind == StepKind::Look || step.kind == StepKind::Clean, step.kind};
    }
    return out;
}

}  // namespace clendo
