#pragma once
#include <optional>
#include <utility>

#include "modules/trace_plot.h"
#include "otdr/level_rows.h"
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

/// Places on a shot, in metres from its front panel, as metres from the link's port at A, and back.
class PlacesFromA {
public:
    PlacesFromA(const TraceShot& shot, const Link& link);
    [[nodiscard]] double operator()(double onTrace) const { return forward_ ? onTrace - port_ : port_ - onTrace; }
    [[nodiscard]] double onTrace(double fromA) const { return forward_ ? fromA + port_ : port_ - fromA; }
    [[nodiscard]] bool forward() const { return forward_; }

private:
    bool forward_;
    double port_ = 0;
};

/// The trace thinned for a screen, the events found, and the plan laid over it: planned attenuation and joints from where the fibre's light begins. A
/// shot from B is turned round: its light falls towards A. `other`: another shot of the link, drawn beneath: that from the other end, or the first
/// one. `range`: nothing: all of the fibre.
TraceDrawing drawTrace(const DrawnShot& drawn, const Link& link, const std::optional<DrawnShot>& other = {},
                       const std::optional<SeenRange>& range = {});

/// A shot as a row of levels from A on, to be held against others of the same direction.
otdr::LevelRow levelRow(const DrawnShot& drawn, const Link& link);

/// Adds to a drawing of a shot what it loses more than an earlier one from the same end did, place by place. `fibreAlone`: the joint at the near end
/// was another one then: it is left out, and what follows is counted from the fibre right behind it.
void addDifference(TraceDrawing& drawing, const DrawnShot& now, const DrawnShot& then, const Link& link, bool fibreAlone = false);

}  // namespace clendo
