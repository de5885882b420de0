#pragma once
#include <opencv2/core.hpp>
#include <optional>

#include "face/face_report.h"
#include "face/picture.h"

namespace clendo::face {

/// What lies on the glass, whatever scope and light showed it: without light, core and rings, at one scale, about the fibre's centre. Faint and
/// strong things count nearly alike, since contrast differs between scopes.
struct Relief {
    static constexpr double umPerPixel = 0.5;
    static constexpr int middle = 124, side = 2 * middle + 1;  ///< pixels; the fibre's centre is the middle of pixel (middle, middle)

    cv::Mat1f map;     ///< `side` x `side`; contrast against the surroundings, strongest near -1 and 1; 0 where nothing was judged
    cv::Mat1b seen;    ///< 255 where the glass was judged
    double noise = 0;  ///< standard deviation of the map where nothing lies

    /// Where a place on the face lies in the map.
    [[nodiscard]] static cv::Point2d at(FacePoint place) { return {middle + place.x.value() / umPerPixel, middle + place.y.value() / umPerPixel}; }
};

/// Nothing where the face was not found or the picture is no evidence. Never throws for a picture of the measurement's own.
std::optional<Relief> reliefOf(const Picture& picture, const FaceMeasurement& face);

}  // namespace clendo::face
