#pragma once
#include <opencv2/core.hpp>
#include <optional>

#include "criteria/finding.h"

namespace clendo::face {

/// How a core differs from the glass about it, by distance from its middle.
struct CoreShape {
    double radius = 4.5;     ///< um
    double exponent = 0;     ///< of (1 - r²/radius²): 0 is an even core, 1 a parabolic one
    bool modeField = false;  ///< a Gaussian that is 1/e² at `radius`: light in a single-mode core (ITU-T G.652, mode field diameter)
};

struct CoreEstimate {
    std::optional<CoreKind> kind;  ///< nothing: the picture shows no core
    bool inferred = false;         ///< no core shows, and one of multimode would: taken as single-mode
    CoreShape shape;
    double strength = 0;          ///< contrast in its middle against the glass, a share; where none is believed, what there is of one all the same
    double glass = 1;             ///< level of the glass
    double unexplained = 1;       ///< share of the glass that does not look as with this core
    cv::Point2d offset = {0, 0};  ///< of its middle from the fibre's, um, where that was looked for

    /// Level at this distance (um) from its centre.
    [[nodiscard]] double level(double um) const;
};

/// Nominal diameter: of the glass core of single-mode, and of multimode fibre (IEC 60793-2-10).
Micrometre nominalDiameter(CoreKind kind);

/// Which core shows in the glass: cores of 9, 50 and 62.5 um, even, graded and lit, are fitted to the cells of the glass (`RingCells`), least
/// absolute residuals first, then Tukey's biweight (Huber, Robust Statistics, 2009, ch. 7), so that dirt does not bend them; what explains most cells
/// wins. A multimode core must show in most directions: a film over the middle does not. The doped core of a multimode fibre shows at every
/// polish: where none of its size does, the core is inferred to be single-mode. `even`: levels with the light divided out, 0 and less where there
/// are none; `ppu`: pixels per um. `expected`: the core that this fibre showed a moment ago; where it shows and explains the glass as well as then,
/// no other is looked for.
CoreEstimate estimateCore(const cv::Mat1f& even, cv::Point2d centre, double ppu, const CoreEstimate* expected = nullptr);

}  // namespace clendo::face
