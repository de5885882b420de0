#pragma once
#include <opencv2/core.hpp>
#include <optional>

#include "face/find/locate.h"

namespace clendo::face {

/// How one frame lies over another of the same face: turned about the fibre's centre and pushed, as a hand moves a scope.
struct FramePose {
    cv::Point2d centre;           ///< of the fibre in the frame that is laid over, pixels
    cv::Point2d push;             ///< pixels
    double turn = 0;              ///< radians, clockwise in the picture
    double gain = 1, offset = 0;  ///< of its light, which brings it to that of the other

    /// Where a place of the frame that is laid over lies in this one.
    [[nodiscard]] cv::Matx23d map() const;
};

/// Lays frames over one frame, to a small part of a pixel: Gauss-Newton on the brightness about the fibre (Lucas and Kanade, IJCAI 1981; Baker and
/// Matthews, IJCV 56, 2004), with Tukey's weights, so that what moved or went out does not pull.
class FrameRegistration {
public:
    /// `reference`: grey levels; `fibre` in it.
    FrameRegistration(const cv::Mat1f& reference, const Circle& fibre);

    /// `fibre`: where it was found in the frame. Nothing where the two do not come to lie on each other.
    [[nodiscard]] std::optional<FramePose> lay(const cv::Mat1f& frame, const Circle& fibre) const;

private:
    struct Sample {
        cv::Point2f at;
        float level = 0, dx = 0, dy = 0;
    };
    Circle fibre_;
    std::vector<Sample> samples_;
};

}  // namespace clendo::face
