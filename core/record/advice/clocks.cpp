#include "record/advice/clocks.h"

#include <algorithm>

namespace clendo {

Clocks clocksOf(const JobState& state)
{
    Clocks out;
    for (const auto& cable : state.plan->cables)
        for (const int nm : state.plan->wavelengthsFor(cable))
            for (const Direction d : state.plan->lossDirections())
                if (const auto* set = state.reference(d, Nanometre(nm))) out.reference = std::min(out.reference.value_or(set->at), set->at);
    for (const auto& [id, face] : state.faces)
        if (face.condition == FaceCondition::Fit && !face.mated && face.covered.empty()) {
            const std::int64_t seen = face.lastJudged()->at;
            out.oldest = out.open++ == 0 ? seen : std::min(out.oldest, seen);
        }
    return out;
}

}  // namespace clendo
