#include "record/advice/next_step.h"

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

const Step* nextStep(const JobState& state, std::span<const Step> left, const Standing& at)
{
    const Step* first = nullptr;
    const Link* here = state.link(at.chosen.link);
    for (const auto& step : left) {
        const bool same = step.kind != StepKind::Mate && at.atFace && step.face == at.chosen && !step.face.link.empty();
        if (same || !canBeDone(state, step)) continue;
        if (!first) first = &step;
        if (!at.atFace || (first->kind != StepKind::Look && first->kind != StepKind::Clean)) return first;
        const Link* there = state.link(step.link);
        if (step.kind == at.working && here && there && there->cable == here->cable && step.face.connection == at.chosen.connection &&
            step.face.side == at.chosen.side && there->fibre > here->fibre)
            return &step;
    }
    return first;
}

}  // namespace clendo
