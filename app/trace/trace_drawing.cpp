#include "app/trace/trace_drawing.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "otdr/thin.h"
#include "record/rules/plan_match.h"

namespace clendo {
namespace {

constexpr std::size_t columns = 1600;
constexpr double usualAttenuation = 0.35;                           // dB/km, where none was measured: for the drawing only
constexpr double plannedConnection = 0.3, plannedSplice = 0.1;      // dB, for the drawing only: the limits judge
constexpr double roomAbove = 1, leastFall = 0.8;                    // dB
constexpr double shareBelow = 0.6, shareAbove = 1.0;                // of what the fibre falls: tall reflections may leave the frame
constexpr double leadFrom = 0.6, leadTo = 0.95, leadMiddle = 0.78;  // part of the launch cord whose level the plan begins at

/// The levels of a part of the trace, lowest and highest of each column, from A on.
void lay(const otdr::Trace& trace, const PlacesFromA& place, SeenRange range, QVector<double>& distance, QVector<double>& level)
{
    const auto [from, to] = std::minmax({place.onTrace(range.first), place.onTrace(range.second)});
    for (const auto& column : otdr::thin(trace, Metre(std::max(0.0, from)), Metre(to), columns)) {
        distance << place(column.distance) << place(column.distance);
        level << column.low << column.high;
    }
    if (!place.forward()) {
        std::reverse(distance.begin(), distance.end());
        std::reverse(level.begin(), level.end());
    }
}

void layPlan(TraceDrawing& drawing, const otdr::Trace& trace, const TraceShot& shot, const Link& link, const PlacesFromA& place)
{
    const bool forward = place.forward();
    const double first = forward ? shot.cords.launch.value() : shot.cords.tail.value();
    const double alpha = (shot.found.span->attenuation ? shot.found.span->attenuation->value() : usualAttenuation) / 1000;
    const auto lead = otdr::thin(trace, Metre(first * leadFrom), Metre(first * leadTo), 40);
    double level = 0;
    for (const auto& c : lead) level += c.low / double(lead.size());
    level += alpha * first * (leadMiddle - leadFrom);
    double at = first * leadFrom;
    const auto to = [&](double z, double loss) {
        level -= alpha * (z - at);
        drawing.planDistance << place(z) << place(z);
        drawing.planLevel << level << level - loss;
        level -= loss;
        at = z;
    };
    to(at, 0);
    std::vector<std::pair<double, double>> joints{{first, plannedConnection}, {first + link.cable->length.value(), plannedConnection}};
    for (const auto& s : link.cable->splices) joints.emplace_back(first + (forward ? s.at : link.cable->length - s.at).value(), plannedSplice);
    std::sort(joints.begin(), joints.end());
    for (const auto& [z, loss] : joints) to(z, loss);
    if (!forward) {
        std::reverse(drawing.planDistance.begin(), drawing.planDistance.end());
        std::reverse(drawing.planLevel.begin(), drawing.planLevel.end());
    }
    const auto [low, high] = std::minmax_element(drawing.planLevel.begin(), drawing.planLevel.end());
    const double lost = shot.found.span->loss ? shot.found.span->loss->value() : 0, fall = std::max({leastFall, *high - *low, lost});
    drawing.bottom = *high - fall * (1 + shareBelow);
    drawing.top = std::min(drawing.top, *high + shareAbove * fall);
}

/// Of a part of the line: the fibre's levels count, not spikes nor the noise behind it.
void frameOf(TraceDrawing& drawing)
{
    QVector<double> levels = drawing.level + drawing.otherLevel;
    std::sort(levels.begin(), levels.end());
    const auto at = [&](double share) { return levels[static_cast<qsizetype>(share * double(levels.size() - 1))]; };
    constexpr double least = 0.1, room = 0.25;  // dB, and of what is between
    const double low = at(0.03), high = at(0.97), between = std::max(least, high - low);
    drawing.bottom = low - room * between;
    drawing.top = high + room * between;
}

}  // namespace

PlacesFromA::PlacesFromA(const TraceShot& shot, const Link& link) : forward_(shot.direction == Direction::AtoB)
{
    const Metre zero{0}, planned = shot.cords.launch + link.cable->length;  // of a shot from B that does not show the end
    const double at = fromA(shot, zero).value_or(planned).value();
    port_ = forward_ ? -at : at;
}

otdr::LevelRow levelRow(const DrawnShot& drawn, const Link& link)
{
    const PlacesFromA place(drawn.shot, link);
    const auto& span = drawn.shot.found.span;
    const Metre length = span ? span->length() : link.cable->length;
    return {drawn.trace, drawn.shot.found, Metre(place.onTrace(place.forward() ? 0 : length.value())), length, !place.forward()};
}

void addDifference(TraceDrawing& drawing, const DrawnShot& now, const DrawnShot& then, const Link& link, bool fibreAlone)
{
    const otdr::LevelRow after = levelRow(now, link), before = levelRow(then, link);
    // so wide that noise does not hide what changed
    constexpr int columns = 240;
    const double wide = std::max((drawing.last - drawing.first) / columns, now.trace.pulseLength().value());
    for (double at = drawing.first; wide > 0 && at < drawing.last; at += wide) {
        const float more = before.mean(at, at + wide) - after.mean(at, at + wide);
        drawing.differenceDistance << at + wide / 2;
        drawing.difference << double(more);
    }
    if (!fibreAlone) return;
    const PlacesFromA place(now.shot, link);
    const double port = place.forward() ? 0 : place(now.shot.cords.launch.value()), blind = 2 * now.trace.pulseLength().value();
    const auto behind = [&](qsizetype i) { return (drawing.differenceDistance[i] - port) * (place.forward() ? 1 : -1); };
    constexpr double metres = 60;
    QVector<double> near;
    for (qsizetype i = 0; i < drawing.difference.size(); ++i) {
        if (behind(i) < blind) drawing.difference[i] = std::numeric_limits<double>::quiet_NaN();
        if (std::isfinite(drawing.difference[i]) && behind(i) < blind + metres) near << drawing.difference[i];
    }
    if (near.isEmpty()) return;
    std::nth_element(near.begin(), near.begin() + near.size() / 2, near.end());
    for (double& more : drawing.difference) more -= near[near.size() / 2];
}

TraceDrawing drawTrace(const DrawnShot& drawn, const Link& link, const std::optional<DrawnShot>& other, const std::optional<SeenRange>& range)
{
    const auto& [trace, shot] = drawn;
    TraceDrawing drawing;
    const PlacesFromA place(shot, link);
    const auto& events = shot.found.events;
    const double reach = double(trace.distance.back());
    const double whole = events.empty() ? reach : std::min(reach, events.back().at.value() * 1.06 + 20);
    const SeenRange all = std::minmax({place(0), place(whole)}), shown = range.value_or(all);
    lay(trace, place, shown, drawing.distance, drawing.level);
    drawing.first = shown.first;
    drawing.last = shown.second;
    if (drawing.level.isEmpty()) return drawing;
    const auto [low, high] = std::minmax_element(drawing.level.begin(), drawing.level.end());
    drawing.bottom = *low;
    drawing.top = *high + roomAbove;
    if (shot.found.span) layPlan(drawing, trace, shot, link, place);
    if (other) lay(other->trace, PlacesFromA(other->shot, link), shown, drawing.otherDistance, drawing.otherLevel);
    if (range) frameOf(drawing);
    for (const auto& section : shot.found.sections) {
        const auto [from, to] = std::minmax({place(section.from.value()), place(section.to.value())});
        drawing.bands << TraceDrawing::Band{from, to};
    }
    for (const auto& e : events)
        drawing.marks << TraceDrawing::Mark{place(e.at.value()), e.kind == otdr::EventKind::Loss || e.kind == otdr::EventKind::Gain};
    return drawing;
}

}  // namespace clendo
