#pragma once
#include <opencv2/core.hpp>
#include <vector>

#include "thing.h"

namespace clendo::drawn {

/// What surrounds the things: glass with core, adhesive, ferrule. Light is in parts of the clean glass's, lengths in µm about the fibre's centre.
struct Surroundings {
    double claddingRadius = 62.5;
    CoreKind core = CoreKind::SingleMode;
    double coreRadius = 4.4;
    double coreLight = 0.05;  ///< added in the core
    double coreGraded = 0;    ///< 1: falls as a parabola to its edge
    cv::Point2d coreAt;
    double ringWidth = 1, ringLight = 0.4;
    cv::Point2d holeAt;  ///< middle of the ferrule's hole: the ring is wider on one side
    double filled = 1;   ///< share of the ring's way round that has adhesive; the rest is as the ferrule
    double ferruleLight = 0.7, grain = 0.03, grainSize = 3;
    double polish = 0.02;      ///< lines on the ferrule; on glass a third of it
    bool rectangular = false;  ///< a ferrule without zone D, specked
    double bevel = 0;          ///< from this radius on the ferrule is bevelled and dark; 0: not
};

/// A plane of light with its scale: pixel (x, y) lies at ((x, y) - centre) * step.
struct Plane {
    cv::Mat1f light;
    cv::Point2d centre;  ///< of the fibre, px
    double step = 0.15;  ///< µm
};

/// What of the plane belongs to one fibre of several.
struct Around {
    double aside = 0;                ///< µm to both sides of it, twice as far up and down; 0: everywhere
    bool top = true, bottom = true;  ///< as far as the plane goes that way
};
/// Light of the face without anything on it.
void drawSurroundings(Plane& plane, const Surroundings& face, const Around& around, Dice& dice);

/// Where a thing lies in the plane, and the share of light it leaves there.
struct Shade {
    cv::Rect box;
    cv::Mat1f leaves;
};
Shade shadeOf(const Thing& thing, const Plane& plane);

}  // namespace clendo::drawn
