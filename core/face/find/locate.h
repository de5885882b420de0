#pragma once
#include <opencv2/core.hpp>
#include <optional>
#include <vector>

#include "face/find/edge_profile.h"

namespace clendo::face {

/// A circle in a picture, pixels; `support` is the share of its circumference that edges speak for.
struct Circle {
    double x = 0, y = 0, radius = 0, support = 0;
};

/// Sigma by which reading between pixels blurs, pixels: straight lines between them, at any place.
inline constexpr double betweenPixels = 0.4;

/// What the edge of the cladding looks like, all in pixels and grey levels.
struct CladdingEdge {
    Circle circle;        ///< the edge of the glass, sub-pixel
    double blur = 0;      ///< sigma of the edge, with what its pixels and reading between them add
    double mostBlur = 0;  ///< where what looks like a line between glass and ferrule is a lens far out of focus: its blur; otherwise the same
    double ring = 0;      ///< width of the dark line behind it
    double coverage = 0;  ///< share of the rays that found the edge
    double insideLevel = 0, outsideLevel = 0;
    EdgeProfile profile{};  ///< from which all that is told

    /// Takes over what a profile says.
    void become(const EdgeShape& shape);
};

/// Coarse circles that may be claddings, strongest first: edges vote along their gradient (circle Hough transform).
/// `radius`, where known, is held within 10 %. At most `most` circles, of one radius, on one row.
std::vector<Circle> locate(const cv::Mat1b& picture, std::optional<double> radius, int most);

/// The same where cores full of light outshine the lines around the glass: cores of a row, whose pitch of 250 um tells the claddings (IEC 61754-7).
/// Nothing where no four circles stand evenly.
std::vector<Circle> locateByCores(const cv::Mat1b& picture, int most);

/// Refines a coarse circle to the edge of the glass: rays, robust circle fit, then a model of the mean edge
/// (step down into the dark line, step up to the ferrule, blurred by a Gaussian). Nothing when no edge is there. `reach`: share of the radius by
/// which the circle may be off.
std::optional<CladdingEdge> refine(const cv::Mat1b& picture, const Circle& coarse, double reach = 0.14);
/// The same in less time, where a moment ago an edge lay there; `sign`: of its profile.
std::optional<CladdingEdge> refineAsBefore(const cv::Mat1b& picture, const Circle& before, double sign);

}  // namespace clendo::face
