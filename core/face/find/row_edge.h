#pragma once
#include <optional>
#include <vector>

#include "face/find/locate.h"

namespace clendo::face {

/// The fibres of a row were glued and polished together and are seen by the same optics: their edges have one shape, which all of them together tell
/// better than each. Takes it over for each whose profile agrees with it, at its own place; the others stay as they are, and all do where fewer than
/// four agree.
void shareEdge(std::vector<std::optional<CladdingEdge>>& row);

}  // namespace clendo::face
