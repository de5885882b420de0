#pragma once
#include <vector>

#include "criteria/finding.h"

namespace clendo::face {

/// Whether something raised (particle, lint, flake; not a chip, pit, scratch or film) of 2 um and more lies within 125 um of the centre: it may hold
/// the faces apart when they are mated. How far, and what that loses and reflects, no picture shows.
bool mayBeHeldApart(const std::vector<Finding>& findings);

}  // namespace clendo::face
