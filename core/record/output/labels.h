#pragma once
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// What is stuck to a port, a cord or a reel.
struct Label {
    std::string title;               ///< "TH-R2 port 7"
    std::vector<std::string> lines;  ///< where it leads, what its record says
    std::string code;                ///< what its QR code holds: "clendo:VP-04/7:" and the SHA-256 of the signed-off record, or "none"
};

/// Labels of the ports of a cable's fibres, at both ends, those of A first; of the kit's cords where `cable` is null.
std::vector<Label> labelsOf(const JobState& state, const CablePlan* cable);
/// Labels of the job's reels: their measured lengths, and what was decided.
std::vector<Label> labelsOfReels(const JobState& state);

}  // namespace clendo
