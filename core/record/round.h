#pragma once
#include <string>
#include <vector>

#include "record/state.h"

namespace clendo {

enum class StepKind { Look, Clean, Mate, Reference, Loss, Trace, Sign };

/// One thing to do, in walking order.
struct Step {
    StepKind kind = StepKind::Look;
    std::string place;  ///< where one stands for it; "Both ends" for light
    std::string link;
    FaceId face;        ///< for Look and Clean
    End end = End::A;   ///< for Mate
    std::string title;  ///< "Look behind the adapter"
    std::string where;  ///< "TH-R2 port 7"
    std::string carry;  ///< what to take along
};

struct Round {
    std::vector<Step> left;  ///< what is still to do, the next one first
    int done = 0, all = 0;
};

/// What is left: by place (all faces and matings at A, then at B), then light through each fibre, then signatures.
Round roundOf(const JobState& state);

}  // namespace clendo
