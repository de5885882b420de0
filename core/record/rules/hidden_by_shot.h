#pragma once
#include <string>
#include <vector>

#include "otdr/shot_choice.h"
#include "record/state/state.h"

namespace clendo {

/// A length of a link in which a shot will not tell joints: behind a reflection the receiver has to come back first.
struct HiddenLength {
    Metre from, to;      ///< from the link's port at A; within the link
    std::string behind;  ///< of what: "TH-R2 port 7"
};

/// The shot that is advised for a link: for its planned loss at its shortest wavelength, with the job's cords. Nothing where no limits are known.
std::optional<otdr::ShotChoice> advisedShot(const JobState& state, const Link& link);

/// What a shot from A with these settings will hide, joint by joint, in order.
std::vector<HiddenLength> hiddenByShot(const Link& link, const otdr::ShotChoice& choice);

}  // namespace clendo
