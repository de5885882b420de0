#pragma once
#include "face/face_report.h"
#include "face/picture.h"

namespace clendo::face {

/// The face laid out flat: angle across (from 3 o'clock, clockwise), distance from the fibre's centre down.
struct UnrollFrame {
    int width = 720, height = 250;
    Micrometre reach{125};   ///< distance of the last row
    double turnDegrees = 0;  ///< added to every angle: lays an earlier look over a later one

    /// Where a place on the face comes to lie: across 0 to width, down 0 to height.
    [[nodiscard]] std::pair<double, double> at(const FacePoint& place) const;
};

/// The unrolled picture, `frame.width` x `frame.height`; what lies outside the picture is 0. Empty where the face was not found or the picture is not
/// sound.
Picture unroll(const Picture& picture, const FaceMeasurement& face, const UnrollFrame& frame);

}  // namespace clendo::face
