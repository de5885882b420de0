#pragma once
#include <optional>
#include <vector>

#include "criteria/finding.h"
#include "face/even/flatten.h"
#include "face/find/locate.h"
#include "face/segment/piece.h"

namespace clendo::face {

/// Turns pieces into findings: place, size and width freed from the picture's blur, kind, what it looks like. Sorted from the fibre's centre outwards
/// and numbered from 1. `ppu`: pixels per um. `glass`: where the pieces were found; faint small ones are measured in it.
std::vector<Finding> describe(const std::vector<Piece>& pieces, const CladdingEdge& edge, double ppu, const Flattened* glass = nullptr);

/// The most that the picture can be blurred, sigma in um, by what lies on the glass: nothing is narrower than the blur. Of the two narrowest clear
/// things the wider counts; nothing where there are no two. The cladding's edge tells more than that where a bright line runs along it.
std::optional<double> sharpestSeen(const std::vector<Piece>& pieces, double ppu);

/// Diameter of a disc of even contrast whose picture, blurred by a Gaussian of `sigma`, is `seen` wide at half of its own height; at least one sigma,
/// below which only the contrast tells how large it is. All in one unit.
double discBeforeBlur(double seen, double sigma);

}  // namespace clendo::face
