#pragma once
#include <optional>
#include <vector>

#include "face/find/locate.h"

namespace clendo::face {

// Fibres in a row lie 250 um apart (IEC 61754-7): a pitch of twice their cladding.

/// The cladding's radius by the pitch, where it is clearly not the one found: cores show better than the cladding.
std::optional<double> radiusByPitch(std::vector<Circle> row);

/// Adds the places in an even row where nothing was found: between the others, and beyond them as far as a whole fibre fits into the picture. Their
/// support is 0: whether a fibre is there, a closer look has to say.
void fillRow(std::vector<Circle>& row, cv::Size picture);

}  // namespace clendo::face
