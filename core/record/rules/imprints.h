#pragma once
#include <string>
#include <vector>

#include "face/judge/imprint.h"
#include "record/state/state.h"

namespace clendo {

/// What one face and another that touched it pressed into each other.
struct PressedTogether {
    /// Which of the two had the marks before they touched.
    enum class Brought { TheFirst, TheSecond, Neither, NotKnown };
    FaceId first, second;
    std::int64_t at = 0;  ///< when they touched, seconds since 1970-01-01 UTC
    face::Imprint marks;
    Brought brought = Brought::NotKnown;
    std::string sentence;
};

/// Of the faces that touched this one: those whose first look afterwards shows marks that are mirror images of marks in this one's first look
/// afterwards. Where both were seen before they touched, also who had them; else that is not known, and said so. In the order of time.
std::vector<PressedTogether> pressedTogether(const JobState& state, const FaceId& face);

}  // namespace clendo
