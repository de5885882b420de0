#include "app/trace/trace_drawing.h"

#include <algorithm>

#include "otdr/thin.h"

namespace clendo {
namespace {

constexpr std::size_t columns = 1600;
constexpr double usualAttenuation = 0.35;                           // dB/km, where none was measured: for the drawing only
constexpr double plannedConnection = 0.3, plannedSplice = 0.1;      // dB, for the drawing only: the limits judge
constexpr double roomBelow = 3, roomAbove = 1, tallestSpike = 6;    // dB
constexpr double leadFrom = 0.6, leadTo = 0.95, leadMiddle = 0.78;  // part of the launch cord whose level the plan begins at

void layPlan(TraceDrawing& drawing, const otdr::Trace& trace, const TraceShot& shot, const Link& link)
{
    const bool forward = shot.direction == Direction::AtoB;
    const double first = forward ? shot.cords.launch.value() : shot.cords.tail.value();
    const double alpha = (shot.found.span->attenuation ? shot.found.span->attenuation->value() : usualAttenuation) / 1000;
    const auto lead = otdr::thin(trace, Metre(first * leadFrom), Metre(first * leadTo), 40);
    double level = 0;
    for (const auto& c : lead) level += c.low / double(lead.size());
    level += alpha * first * (leadMiddle - leadFrom);
    double at = first * leadFrom;
    const auto to = [&](double z, double loss) {
        level -= alpha * (z - at);
        drawing.planDistance << z << z;
        drawing.planLevel << level << level - loss;
        level -= loss;
        at = z;
    };
    to(at, 0);
    std::vector<std::pair<double, double>> joints{{first, plannedConnection}, {first + link.cable->length.value(), plannedConnection}};
    for (const auto& s : link.cable->splices) joints.emplace_back(first + (forward ? s.at : link.cable->length - s.at).value(), plannedSplice);
    std::sort(joints.begin(), joints.end());
    for (const auto& [z, loss] : joints) to(z, loss);
    drawing.bottom = level - roomBelow;
    drawing.top =
        std::min(drawing.top, drawing.planLevel.front() + tallestSpike + roomAbove);  // the fibre matters; tall reflections may leave the frame
}

}  // namespace

TraceDrawing drawTrace(const otdr::Trace& trace, const TraceShot& shot, const Link& link)
{
    TraceDrawing drawing;
    const auto& events = shot.found.events;
    const double whole = double(trace.distance.back());
    drawing.last = events.empty() ? whole : std::min(whole, events.back().at.value() * 1.06 + 20);
    for (const auto& column : otdr::thin(trace, Metre(0), Metre(drawing.last), columns)) {
        drawing.distance << column.distance << column.distance;
        drawing.level << column.low << column.high;
    }
    if (drawing.level.isEmpty()) return drawing;
    const auto [low, high] = std::minmax_element(drawing.level.begin(), drawing.level.end());
    drawing.bottom = *low;
    drawing.top = *high + roomAbove;
    if (shot.found.span) layPlan(drawing, trace, shot, link);
    for (const auto& e : events)
        drawing.marks << TraceDrawing::Mark{e.at.value(), e.kind == otdr::EventKind::Loss || e.kind == otdr::EventKind::Gain};
    return drawing;
}

}  // namespace clendo
