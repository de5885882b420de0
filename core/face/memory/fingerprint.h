#pragma once
#include <opencv2/core.hpp>
#include <optional>
#include <vector>

#include "face/memory/relief.h"

namespace clendo::face {

/// One thing on the glass by which a face may be known again.
struct FaceMark {
    std::vector<cv::Point> pixels;       ///< of the relief: what it covers and a little around it
    double strength = 0;                 ///< the strongest of the relief, without sign
    std::optional<cv::Point2d> along{};  ///< direction of what is straight and slender, of length 1
    bool lasting = false;                ///< scratch, chip or crack: no cleaning takes it. A pit does not differ from dirt for sure
    int group = 0;                       ///< the same of what lies side by side
};

/// By what a face is known again. Needs the picture once; comparing needs it no more.
struct Fingerprint {
    Relief relief;
    std::vector<FaceMark> marks;

    /// Whether a mark would show on another relief for certain if it were of the same face.
    [[nodiscard]] static bool shouldLast(const FaceMark& mark, const Relief& other);
};

/// Nothing where the picture is no evidence of the face.
std::optional<Fingerprint> fingerprintOf(const Picture& picture, const FaceMeasurement& face);

}  // namespace clendo::face
