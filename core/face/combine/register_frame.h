#pragma once
#include <opencv2/core.hpp>
#include <optional>
#include <vector>

#include "face/find/locate.h"

namespace clendo::face {

/// How one frame lies over another of the same face: turned about the fibres' middle and pushed, as a hand moves a scope.
struct FramePose {
    cv::Point2d centre;           ///< the middle of the fibres in the frame that is laid over, pixels
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
    /// `reference`: grey levels; `fibres`: those of its face, one or all of a ferrule.
    FrameRegistration(const cv::Mat1f& reference, std::vector<Circle> fibres);

    /// The frame on itself.
    [[nodiscard]] FramePose itself() const { return {centre_, {}, 0, 1, 0}; }
    /// `fibres`: where the same were found in the frame, in the same order. Nothing where the two do not come to lie on each other.
    [[nodiscard]] std::optional<FramePose> lay(const cv::Mat1f& frame, const std::vector<Circle>& fibres) const;

private:
    struct Sample {
        cv::Point2f at;
        float level = 0, dx = 0, dy = 0;
    };
    std::vector<Circle> fibres_;
    cv::Point2d centre_;
    double extent_ = 0;  ///< px from there to the farthest edge of the glass
    std::vector<Sample> samples_;
};

}  // namespace clendo::face
