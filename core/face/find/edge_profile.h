#pragma once
#include <optional>
#include <vector>

namespace clendo::face {

/// How light changes across the edge of a cladding, all round it.
struct EdgeProfile {
    static constexpr double step = 0.25;  ///< pixels from one level to the next
    std::vector<double> levels;           ///< grey, outwards
    double from = 0;                      ///< radius of the first one, pixels
    double seen = 0;                      ///< radius at which light changes most, of the wanted sign
    double sign = -1;                     ///< of that change: 1 where it becomes brighter outwards
};

/// What such a profile says, in pixels and grey levels.
struct EdgeShape {
    double radius = 0;    ///< where the glass ends
    double blur = 0;      ///< sigma of the edge
    double mostBlur = 0;  ///< where what looks like a line between glass and ferrule is a lens far out of focus: its blur; otherwise the same
    double ring = 0;      ///< width of the line behind the edge
    double insideLevel = 0, outsideLevel = 0;
};

/// A model of the edge is fitted: a step into the line, one out of it to the ferrule, blurred by a Gaussian.
EdgeShape shapeOf(const EdgeProfile& profile);
/// The same of a profile without noise, as many fibres together tell it: lines of all widths and levels are tried, also those narrower than the blur.
/// Nothing where none of them is told from how the light of glass ends.
std::optional<EdgeShape> finelyShapeOf(const EdgeProfile& profile);

}  // namespace clendo::face
