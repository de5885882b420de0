#pragma once
#include <cstdint>
#include <optional>
#include <vector>

#include "face/picture.h"
#include "units/units.h"
#include "world/handling.h"
#include "world/marks.h"

namespace clendo::world {

struct SimulatedFace {
    std::vector<Mark> marks;
};

/// A face of that story; the same seed gives the same face.
SimulatedFace makeFace(Story story, std::uint32_t seed);

/// The face after so many cleanings: each takes most of the dirt, moves a little of it, and leaves all damage.
SimulatedFace cleaned(SimulatedFace face, int cleanings, std::uint32_t seed);

struct Camera {
    int width = 800, height = 600;
    Scale scale{0.42};
    Micrometre blur{0.45};
    Micrometre offsetX{0}, offsetY{0};  ///< of the fibre from the picture's middle
    double brightness = 1;              ///< 1 is well lit
    double noise = 1.2;                 ///< grey levels
    std::uint32_t seed = 1;
    std::optional<std::uint32_t> surface{};  ///< of the ferrule and its light (surface.h), nothing: plain
};

/// The picture that a microscope with coaxial light would take: ferrule with grain, adhesive line, cladding, core, marks, blur, noise.
face::Picture takePicture(const SimulatedFace& face, const Camera& camera);

/// The picture of a rectangular ferrule: its fibres in a row, 250 um apart, with guide holes or pins where the frame shows them (IEC 61754-7).
struct Row {
    std::vector<SimulatedFace> fibres;  ///< from the left
    bool multimode = true;              ///< cores of 50 um
    bool pins = false;
};
face::Picture takeRowPicture(const Row& row, const Camera& camera);

/// A face under a live microscope: its scene is drawn once, each frame is cut from it as the hand holds it.
class Microscope {
public:
    Microscope(const SimulatedFace& face, Camera camera);
    Microscope(const Row& row, Camera camera);
    /// Pure: the same handling gives the same frame.
    [[nodiscard]] face::Picture frame(const Handling& hand) const;

private:
    Camera camera_;
    std::vector<float> scene_, noise_;
};

}  // namespace clendo::world
