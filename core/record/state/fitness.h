#pragma once
#include <string>

#include "record/state/state.h"

namespace clendo {

/// Why a face is not fit now: "was cleaned and not looked at again"; empty where it is.
std::string whyNotFit(const JobState& state, const FaceId& face);
/// The same from what is known of the face alone.
std::string whyNotFit(const FaceState& face, FaceCondition condition);

}  // namespace clendo
