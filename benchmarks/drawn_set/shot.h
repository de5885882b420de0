#pragma once
#include <string>
#include <vector>

#include "camera.h"
#include "lens.h"
#include "scene.h"

namespace clendo::drawn {

/// What and how much lies on a face: mean counts.
struct Dirt {
    double specks = 1.2, flakes = 0.2, droplets = 0.2, films = 0.05, lint = 0.05, pits = 0.5, chips = 0.1, scratches = 0.3, bundles = 0,
           crossings = 0;
    double onFerrule = 2;  ///< specks and flakes beyond the glass
};

struct Shot {
    std::string kind, faceClass = "sm-upc";
    Dirt dirt;
    Surroundings face;
    Lens lens;
    Camera camera;
    double scale = 0.4;  ///< µm a pixel of the picture
    cv::Size size{1024, 768};
    int fibres = 1, rows = 1, jpeg = 0;
    bool retake = false;
    cv::Point2d push{0, 0};  ///< of the fibre from the middle, in parts of the picture
};

/// A place at random, evenly over a ring.
cv::Point2d somewhere(Dice& dice, double from, double to);

/// What lies on one face.
std::vector<Thing> thingsOn(const Dirt& dirt, const Surroundings& face, Dice& dice);

}  // namespace clendo::drawn
