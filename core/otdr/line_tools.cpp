#include "otdr/line_tools.h"

#include <algorithm>
#include <cmath>

namespace clendo::otdr {
namespace {

/// The power at a place, where there is light.
std::optional<double> lit(const Signal& signal, Metre at)
{
    if (signal.size() == 0 || signal.z(0) > at.value() || signal.z(signal.size() - 1) < at.value()) return std::nullopt;
    constexpr double overNoise = 3;
    const double power = signal.power(signal.indexOf(at.value()));
    return power > overNoise * signal.noise() ? std::optional(power) : std::nullopt;
}

std::optional<Line> lineOf(const Signal& signal, Metre from, Metre to, Metre readAt)
{
    const std::size_t a = signal.indexOf(from.value()), b = signal.indexOf(to.value());
    return b > a ? signal.fit(a, b, readAt.value()) : std::nullopt;
}

bool reflects(const Event& e) { return e.kind == EventKind::Reflective || e.kind == EventKind::Launch || e.kind == EventKind::Ghost; }

}  // namespace

std::optional<Decibel> twoPointLoss(const Signal& signal, Metre from, Metre to)
{
    const auto a = lit(signal, from), b = lit(signal, to);
    if (!a || !b) return std::nullopt;
    return Decibel(decibels(*a) - decibels(*b));
}

std::optional<FibreLoss> leastSquaresLoss(const Signal& signal, Metre from, Metre to)
{
    const Metre middle = (from + to) / 2;
    const auto line = lineOf(signal, from, to, middle), atEnd = lineOf(signal, from, to, to);
    if (!line || !atEnd || to <= from) return std::nullopt;
    constexpr double kilometre = 1000;
    // the error of the level grows from the middle on as the slope is uncertain
    const double grown = std::sqrt(std::max(0.0, std::pow(atEnd->levelError, 2) - std::pow(line->levelError, 2)));
    return FibreLoss{Decibel(-line->slope * (to - from).value()), DecibelPerKilometre(-line->slope * kilometre),
                     DecibelPerKilometre(grown / ((to - from).value() / 2) * kilometre)};
}

std::optional<JointLoss> fiveMarkLoss(const Signal& signal, const FiveMarks& marks)
{
    const auto before = lineOf(signal, marks.beforeFrom, marks.beforeTo, marks.at),
               behind = lineOf(signal, marks.behindFrom, marks.behindTo, marks.at);
    if (!before || !behind) return std::nullopt;
    return JointLoss{Decibel(before->level - behind->level), Decibel(std::hypot(before->levelError, behind->levelError))};
}

std::optional<FiveMarks> marksFor(const Trace& trace, const std::vector<Event>& events, Metre at)
{
    const double pulse = trace.pulseLength().value(), spacing = trace.spacing().value(), edge = 0.5 * pulse + 2 * spacing;
    const double afterReflection = 3 * pulse + 4 * spacing, afterStep = 1.3 * pulse + 2 * spacing;
    double from = double(trace.distance.empty() ? 0 : trace.distance.front()), to = double(trace.distance.empty() ? 0 : trace.distance.back());
    bool reflecting = false;
    for (const auto& e : events) {
        const double z = e.at.value(), clean = z + (reflects(e) ? afterReflection : afterStep);
        if (std::abs(z - at.value()) <= edge)
            reflecting = reflects(e);
        else if (z < at.value())
            from = std::max(from, clean);
        else
            to = std::min(to, z - edge);
    }
    const FiveMarks marks{Metre(from), Metre(at.value() - edge), at, Metre(at.value() + (reflecting ? afterReflection : afterStep)), Metre(to)};
    const Metre least{std::max(pulse, 8 * spacing)};
    if (marks.beforeTo - marks.beforeFrom < least || marks.behindTo - marks.behindFrom < least) return std::nullopt;
    return marks;
}

Metre snapped(const std::vector<Event>& events, Metre at, Metre reach)
{
    Metre out = at;
    double nearest = reach.value();
    for (const auto& e : events)
        if (const double off = std::abs((e.at - at).value()); off <= nearest) {
            nearest = off;
            out = e.at;
        }
    return out;
}

}  // namespace clendo::otdr
