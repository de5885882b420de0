#pragma once
#include <vector>

#include "criteria/finding.h"
#include "face/segment/piece.h"

namespace clendo::face {

/// Leaves out scratches that lie within a wider one over most of their length: a side of it that was taken for a line of its own. `findings` are
/// those of `pieces`, in their order. `ppu`: pixels per um.
void leaveOutLinesWithin(std::vector<Finding>& findings, const std::vector<Piece>& pieces, double ppu);

}  // namespace clendo::face
