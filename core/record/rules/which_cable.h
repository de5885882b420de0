#pragma once
#include <string>

#include "record/state/state.h"

namespace clendo {

/// Whether a shot shows another cable of the plan than the one it was brought for, or its other end, by its length and the pattern of its joints.
struct WhichCable {
    const Link* better = nullptr;  ///< fibre of the same number in the cable that it fits clearly better; null: in none
    bool turned = false;           ///< the joints lie as they are seen from the cable's other end
    std::string why;               ///< in a sentence; empty: it may well be this one
};

/// `found`: of a shot of `direction`, brought for `link`. Nothing is said of a shot that does not show the whole link, or that is too short only: a
/// broken fibre is one of this cable.
WhichCable whichCable(const JobState& state, const Link& link, const otdr::Analysis& found, Direction direction);

}  // namespace clendo
