#include "otdr/cut_step.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace clendo::otdr {
namespace {

constexpr double leastShare = 0.25;      // of the ramp that must be seen
constexpr std::size_t leastSamples = 6;  // on the ramp
constexpr double seenChi = 50;           // of chi square, over no step: 7 sigma: it is tried on every trace
constexpr double clearly = 5;            // sigmas of the loss
constexpr double unevenPulse = 0.1;      // of the loss: pulses are not even, so ramps are not straight
constexpr double perDecibel = 0.4605;    // ln 10 / 5: of the power, for small ones

struct Ramp {
    double at = 0, gone = 0, error = 0;  ///< m; share of the power that is lost
    double gain = 0;                     ///< of chi square
};

/// A point against the fibre's line: what is gone of its power, and how much that counts.
struct Point {
    double z, gone, weight;
};

std::vector<Point> againstLine(const Signal& s, const Stretch& stretch, std::size_t from, std::size_t to)
{
    std::vector<Point> out;
    for (std::size_t i = from; i < to; ++i) {
        const double z = s.z(i), line = std::pow(10, (stretch.level(z) + stretch.tail(z)) / 5);
        const double sigma = perDecibel * stretch.scatter() * s.sigmaAt(line);
        out.push_back({z, 1 - s.power(i) / line, 1 / (sigma * sigma * std::max(1.0, s.correlation()))});
    }
    return out;
}

/// By least squares: what is gone from the power of the line before, as the pulse passes a place.
std::optional<Ramp> rampAt(const std::vector<Point>& points, double at, double pulse)
{
    double weight = 0, sum = 0;
    for (const Point& p : points) {
        const double share = std::clamp((p.z - at) / pulse, 0.0, 1.0);
        weight += p.weight * share * share;
        sum += p.weight * share * p.gone;
    }
    if (weight <= 0 || sum <= 0) return std::nullopt;
    return Ramp{at, sum / weight, 1 / std::sqrt(weight), sum * sum / weight};
}

}  // namespace

std::optional<Step> cutStep(const Signal& s, const Stretch& stretch, std::size_t to)
{
    if (to <= stretch.from() + leastSamples) return std::nullopt;
    const double end = s.z(to - 1), pulse = s.pulseMetres();
    const double unsearched = s.rampMetres() + std::max(8 * s.spacing(), pulse / 2);  // the search for steps needs so much behind one
    double first = std::max(s.z(stretch.from()) + 2 * pulse, end - unsearched);
    if (!stretch.steps().empty()) first = std::max(first, stretch.steps().back().at + s.rampMetres());
    const double last = end - std::max(leastShare * pulse, double(leastSamples) * s.spacing());
    if (first >= last) return std::nullopt;
    const auto points = againstLine(s, stretch, s.indexOf(first), to);
    std::optional<Ramp> best;
    for (double at = first; at <= last; at += std::max(pulse / 30, s.spacing() / 4))
        if (const auto ramp = rampAt(points, at, pulse); ramp && (!best || ramp->gain > best->gain)) best = ramp;
    constexpr double allLight = 0.97;
    if (!best || best->gain < seenChi || best->gone >= allLight) return std::nullopt;
    // where it begins is not known better than its depth: both come from the same few samples
    const double seen = std::min(1.0, (end - best->at) / pulse), error = std::hypot(2 * best->error, unevenPulse * best->gone * (1 / seen - 0.5));
    Step out;
    out.at = best->at;
    out.loss = -decibels(1 - best->gone);
    out.error = std::hypot(error / (1 - best->gone) / perDecibel, s.speckle());
    return out.loss > clearly * std::hypot(2 * best->error / perDecibel, s.speckle()) ? std::optional(out) : std::nullopt;
}

}  // namespace clendo::otdr
