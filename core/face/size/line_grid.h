#pragma once
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

namespace clendo::face {

/// Places of a map across a line: a row for each step along it, the line's middle in the middle column.
struct LineGrid {
    cv::Mat1f x, y;

    /// `place`: of step n along it and column i, from -`half` to `half`, in pixels of the map.
    template <typename Place>
    LineGrid(int steps, int half, Place place) : x(steps, 2 * half + 1), y(x.size())
    {
        for (int n = 0; n < steps; ++n)
            for (int i = -half; i <= half; ++i) {
                const cv::Point2d p = place(n, i);
                x(n, i + half) = static_cast<float>(p.x);
                y(n, i + half) = static_cast<float>(p.y);
            }
    }

    /// What the map has there, between its pixels; 0 outside it.
    [[nodiscard]] cv::Mat1f read(const cv::Mat1f& map) const
    {
        cv::Mat1f out;
        cv::remap(map, out, x, y, cv::INTER_LINEAR, cv::BORDER_CONSTANT, cv::Scalar(0));
        return out;
    }
};

}  // namespace clendo::face
