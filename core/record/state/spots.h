#pragma once
#include "record/state/state.h"

namespace clendo {

/// Whether a dark round thing of the last look is known to be a pit: it stayed at its place through a cleaning. Until then it is a spot, and may be
/// dirt.
bool isKnownPit(const Finding& finding, const FaceState& face);

/// Whether something that lies on the face now may hold it apart from its partner (face/held_apart.h); spots that may be dirt count.
bool mayBeHeldApart(const FaceState& face);

}  // namespace clendo
