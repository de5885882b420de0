#pragma once
#include "modules/trace_plot.h"
#include "otdr/trace.h"
#include "record/state/state.h"

namespace clendo {

/// The trace thinned for a screen, the events found, and the plan laid over it: planned attenuation and joints from where the fibre's light begins.
TraceDrawing drawTrace(const otdr::Trace& trace, const TraceShot& shot, const Link& link);

}  // namespace clendo
