#pragma once
#include <opencv2/core.hpp>
#include <vector>

namespace clendo::face {

/// A straight stroke: scratches are straight, lint and cracks are not.
struct Straight {
    cv::Point2f middle, along;        ///< `along` of length 1
    double length = 0, width = 0;     ///< pixels; width at half contrast
    std::vector<cv::Point2f> points;  ///< of the outline that lie on it
};

double cross(cv::Point2f a, cv::Point2f b);
/// Degrees between two directions of length 1, whichever way each runs.
double angleBetween(cv::Point2f a, cv::Point2f b);
/// Main direction through the points of an outline, and how they lie along and across it.
Straight fitted(std::vector<cv::Point2f> points);

}  // namespace clendo::face
