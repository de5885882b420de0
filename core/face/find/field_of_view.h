#pragma once
#include <opencv2/core.hpp>

namespace clendo::face {

/// What of a picture its optics show: some cameras look through a round window, add black bars, or write on the picture. There is nothing to judge
/// there, and its border is no edge of anything on the face.
class FieldOfView {
public:
    /// All of any picture.
    FieldOfView() = default;
    /// Of a grey picture. All of it where nothing speaks for less: dark corners of uneven light still show what lies there.
    explicit FieldOfView(const cv::Mat1b& picture);

    /// Whether a window or bars hide a part of the picture.
    [[nodiscard]] bool hides() const { return !lit_.empty(); }
    /// Whether all of a circle lies where there is light: within the field, or where its border only dims what is seen.
    [[nodiscard]] bool holds(cv::Point2d centre, double radius) const;
    /// The share of a ring that lies within it and within a picture of this size.
    [[nodiscard]] double shareOfRing(cv::Point2d centre, double from, double to, cv::Size picture) const;
    /// 255 where something can be seen, of the picture's size; its border is left out. Empty: everywhere.
    [[nodiscard]] const cv::Mat1b& seen() const { return seen_; }
    /// The picture without the dimming of the border, and outside the field going on as it is within, so that there is no border.
    [[nodiscard]] cv::Mat1b goingOn(const cv::Mat1b& picture) const;

private:
    void findBorders(const cv::Mat1b& picture);

    cv::Mat1b seen_;
    cv::Mat1b lit_;   ///< `seen_` and the border as far as it only dims
    cv::Mat1b rim_;   ///< of `lit_`, what lies along the border
    cv::Mat1f gain_;  ///< that takes its dimming away, 1 and more
};

}  // namespace clendo::face
