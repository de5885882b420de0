#pragma once
#include <string>
#include <string_view>

#include "record/state/state.h"

namespace clendo {

/// The next cleaning method for a face: stronger each time, never wet without dry.
struct CleaningAdvice {
    std::string method;  ///< as FaceCleaned keeps it
    std::string words;   ///< for people
};
/// `firstMethod`: the job's policy, "dry" or "wet". `target`: what is cleaned, as cleaningTarget() says it; nothing wet goes into a device.
CleaningAdvice adviceFor(const FaceState& face, std::string_view firstMethod = "dry", std::string_view target = "cord");

}  // namespace clendo
