#pragma once
#include "otdr/analysis.h"

namespace clendo::otdr {

/// Whether an event is something on the line: no launch, no end, no echo.
inline bool isJoint(const Event& e) { return e.kind == EventKind::Reflective || e.kind == EventKind::Loss || e.kind == EventKind::Gain; }

}  // namespace clendo::otdr
