#pragma once
#include <optional>

#include "face/even/flatten.h"
#include "face/segment/piece.h"
#include "face/size/shape.h"

namespace clendo::face {

/// Width of a bar of even contrast whose picture, blurred by a Gaussian of `sigma`, is `seen` wide at half its height. All in one unit.
double widthBeforeBlur(double seen, double sigma);

/// Width of a groove with a dark and a bright flank of the same width whose picture, blurred by a Gaussian of `sigma`, is `seen` wide between the
/// outer sides of both at half their heights. All in one unit.
double grooveBeforeBlur(double seen, double sigma);

/// Width, um, of a long thin thing in the glass before the blur (`sigma`, um, of the optics and the pixels), from the mean of many profiles across
/// it: noise, gaps and what crosses it move that less than they move an outline. A groove whose weaker flank hardly shows is as wide as both. Nothing
/// where the thing is too short or too faint for that, or runs in no arc. `ppu`: pixels per um.
std::optional<double> lineWidth(const Flattened& glass, const Piece& piece, const Shape& shape, const Course& course, double ppu, double sigma);

}  // namespace clendo::face
