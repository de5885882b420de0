#include "record/state/fitness.h"

#include <fmt/format.h>

namespace clendo {

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

}  // namespace clendo
