#pragma once
#include <optional>
#include <utility>

#include "modules/trace_plot.h"
#include "otdr/trace.h"
#include "record/state/state.h"

namespace clendo {

/// Part of the line that is looked at, in metres from A.
using SeenRange = std::pair<double, double>;

/// A trace and its shot.
struct DrawnShot {
    const otdr::Trace& trace;
    const TraceShot& shot;
};

/// The trace thinned for a screen, the events found, and the plan laid over it: planned attenuation and joints from where the fibre's light begins. A
/// shot from B is turned round: its light falls towards A. `other`: the shot from the other end, drawn beneath. `range`: nothing: all of the fibre.
TraceDrawing drawTrace(const DrawnShot& drawn, const Link& link, const std::optional<DrawnShot>& other = {},
                       const std::optional<SeenRange>& range = {});

}  // namespace clendo
