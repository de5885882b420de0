#pragma once
#include <opencv2/core.hpp>
#include <vector>

#include "face/even/core_kind.h"
#include "face/even/working.h"
#include "face/find/locate.h"

namespace clendo::face {

/// A region of the picture without what belongs there: light, core and cladding divided out, so that only findings are left.
struct Flattened {
    cv::Mat1f contrast;        ///< change against the clean surroundings, a share; 0 where nothing is judged
    cv::Mat1f doubt;           ///< extra threshold where the background itself is steep (core's edge, rim)
    cv::Mat1b judged;          ///< 255 where it was looked at
    cv::Point2d origin;        ///< the maps' first pixel, in pixels of the picture
    cv::Point2d brightCentre;  ///< of a lit core, pixels of the maps
    double brightRadius = 0;   ///< 0: none is lit
    double brightNoise = 1;    ///< noise in it, a share of that in the glass: contrast is a share of more light
    double lost = 0;           ///< noise that the picture no longer shows (lostNoise); a share, as `contrast`
    double rounding = 0;       ///< jpegStep, a share
    double reduction = 1;      ///< pixels of the picture per pixel of the maps
    double light = 0;          ///< of the glass, grey
    int lonePixels = 0;        ///< of the camera, that stood out alone (mendLonePixels)
    CoreEstimate core;

    [[nodiscard]] bool empty() const { return contrast.empty(); }
};

/// How far the ferrule is judged, in radii of the cladding: zone D ends at 250 um.
inline constexpr double ferruleReach = 2.0;

/// How wide the band about the edge of the cladding is that neither map judges, pixels: softened by the optics, and filled by the adhesive.
double unjudgedBand(const CladdingEdge& edge, double pixelsPerMicrometre);

/// The glass, pixel by pixel. `expected`: as of estimateCore().
Flattened flattenGlass(const Working& on, const CoreEstimate* expected = nullptr);

/// The ferrule out to `ferruleLook`. Only what is large matters there, so it is reduced to about 0.7 um per pixel.
Flattened flattenFerrule(const Working& on);

}  // namespace clendo::face
