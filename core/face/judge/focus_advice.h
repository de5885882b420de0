#pragma once
#include <optional>
#include <span>
#include <string_view>

#include "face/face_report.h"

namespace clendo::face {

/// One judged frame of a live picture, as focusing sees it.
struct FocusSample {
    Second at;
    std::optional<Micrometre> blur;      ///< of the cladding's edge; nothing: no edge was found
    std::optional<RetakeReason> reason;  ///< why the frame is no evidence; nothing: it is
};

enum class FocusAdvice { Sharp, KeepTurning, TurnBack, DoNotForce, FindTheFibre, Light, HoldStill };
/// A sentence for the technician at the scope.
std::string_view sentenceOf(FocusAdvice advice);

/// What to do now, from the frames of the last seconds, oldest first. An instrument's wheel needs few turns: after `patience` without focus the
/// advice is to stop turning and to check the tip.
FocusAdvice adviseFocus(std::span<const FocusSample> samples, Second patience = Second(8));

}  // namespace clendo::face
