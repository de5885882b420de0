#pragma once
#include <vector>

#include "otdr/reflections.h"

namespace clendo::otdr {

/// Two reflections nearer to each other than a pulse: where a plateau rises once more, as sharply as a reflection does and by as much as it stood
/// there already, another one begins, and both become places of their own, without clean fibre between them. A weaker second one is not told: pulses
/// are not even.
void divideOverlaps(const Signal& signal, std::vector<Candidate>& places);

}  // namespace clendo::otdr
