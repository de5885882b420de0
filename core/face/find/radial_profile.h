#pragma once
#include <algorithm>
#include <cmath>
#include <functional>
#include <opencv2/core.hpp>
#include <vector>

namespace clendo::face {

/// Median brightness by distance from the fibre's centre. Near the middle the distance is taken from the core, which may
/// lie a little off: `shift` fades out between `shiftRadius` and twice that.
class RadialProfile {
public:
    struct Frame {
        double inner = 0, outer = 0;  ///< pixels
        cv::Point2d centre, shift;
        double shiftRadius = 0;
    };

    /// `even`: light already divided out; pixels of 0 and less are not asked.
    RadialProfile(const cv::Mat1f& even, const Frame& frame);

    /// Divides the picture by its profile: `contrast` is the change against it, `doubt` what a background misplaced by `misplaced` pixels would make
    /// of it, `judged` 255 where either is known.
    void divide(const cv::Mat1f& even, double misplaced, cv::Mat1f& contrast, cv::Mat1f& doubt, cv::Mat1b& judged) const;
    /// Rings near the middle have too few pixels and share them, which cuts the peak off a lit core: where the profile rises to the middle, it goes
    /// on as it rises outside them (in the square of the distance).
    void raiseMiddle();
    [[nodiscard]] double level(double distance) const;
    [[nodiscard]] double slope(double distance) const;

    /// Nothing nearer than `upTo` is darker or brighter than it may be at its distance: what lies right in the middle looks like a core to a mean
    /// over rings.
    void keepBetween(const std::function<double(double)>& darkest, const std::function<double(double)>& brightest, double upTo);

    /// How far the rings between the two distances lie off their assumed centre: the residual brightness regressed on the
    /// slope, robustly, at most `most` pixels.
    [[nodiscard]] cv::Point2d eccentricity(const cv::Mat1f& even, double from, double to, double most) const;

private:
    [[nodiscard]] float distance(float dx, float dy) const
    {
        const float r2 = dx * dx + dy * dy;
        if (r2 >= shifted2_) return std::sqrt(r2);
        const float part = std::clamp(2 - std::sqrt(r2) / static_cast<float>(frame_.shiftRadius), 0.0F, 1.0F);
        const float sx = dx - part * static_cast<float>(frame_.shift.x), sy = dy - part * static_cast<float>(frame_.shift.y);
        return std::sqrt(sx * sx + sy * sy);
    }
    class Distances;
    [[nodiscard]] cv::Rect reached(const cv::Mat1f& even, double outer) const;

    Frame frame_;
    float shifted2_;              ///< square of the distance from which nothing is shifted
    std::size_t shared_ = 0;      ///< bins from the middle that were pooled into one
    std::vector<double> levels_;  ///< at the middles of bins of half a pixel, from inner
};

}  // namespace clendo::face
