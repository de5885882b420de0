#pragma once
#include "record/state/rules.h"
#include "record/state/state.h"

namespace clendo {

/// A face that was looked at without a job: judged as one of a job would be, and kept nowhere.
struct QuickLook {
    JobState state;
    FaceId face;  ///< the one that the advice is about: of several fibres the one that decides
    int fibre = 1, fibres = 1;

    [[nodiscard]] const Link& link() const { return *state.link(face.link); }
};

/// `seen`: what one picture shows, fibre by fibre. `className`: by which class it is judged, by the criteria of 2015.
QuickLook quickLook(const std::vector<face::FaceMeasurement>& seen, const std::string& className, const Rules& rules);

}  // namespace clendo
