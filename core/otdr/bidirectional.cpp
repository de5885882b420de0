#include "otdr/bidirectional.h"

#include <algorithm>
#include <cmath>

#include "otdr/joint.h"

namespace clendo::otdr {
namespace {

std::optional<Metre> endOf(const Analysis& a)
{
    if (a.events.empty() || a.events.back().kind != EventKind::End) return std::nullopt;
    return a.events.back().at;
}

template <class T>
std::optional<T> meanOf(const std::optional<T>& a, const std::optional<T>& b)
{
    if (a && b) return (*a + *b) / 2;
    return std::nullopt;
}

}  // namespace

Bidirectional combine(const Trace& fromA, const Trace& fromB, const Cords& cords)
{
    Bidirectional out;
    const Analysis a = analyse(fromA, cords), b = analyse(fromB, {cords.tail, cords.launch});
    const auto endA = endOf(a), endB = endOf(b);
    if (!endA || !endB) return out;
    const Metre end = (*endA + *endB) / 2;
    const double tolerance = std::max({1.5 * fromA.pulseLength().value(), 1.5 * fromB.pulseLength().value(), 6 * fromA.spacing().value(), 1.0}) +
                             std::abs((*endA - *endB).value());
    std::vector<char> used(b.events.size(), 0);
    for (const auto& e : a.events) {
        if (!isJoint(e)) continue;
        Pair pair{e.at, e.loss, {}, {}, e.kind == EventKind::Reflective};
        std::size_t best = b.events.size();
        for (std::size_t k = 0; k < b.events.size(); ++k) {
            const double off = std::abs((end - b.events[k].at - e.at).value());
            if (isJoint(b.events[k]) && !used[k] && off <= tolerance &&
                (best == b.events.size() || off < std::abs((end - b.events[best].at - e.at).value())))
                best = k;
        }
        if (best < b.events.size()) {
            used[best] = 1;
            pair.lossBa = b.events[best].loss;
            pair.loss = meanOf(pair.lossAb, pair.lossBa);
        }
        out.pairs.push_back(pair);
    }
    for (std::size_t k = 0; k < b.events.size(); ++k)
        if (isJoint(b.events[k]) && !used[k])
            out.pairs.push_back({end - b.events[k].at, {}, b.events[k].loss, {}, b.events[k].kind == EventKind::Reflective});
    std::sort(out.pairs.begin(), out.pairs.end(), [](const Pair& x, const Pair& y) { return x.at < y.at; });
    if (a.span && b.span) {
        Span span = *a.span;
        span.loss = meanOf(a.span->loss, b.span->loss);
        span.attenuation = meanOf(a.span->attenuation, b.span->attenuation);
        span.returnLoss = meanOf(a.span->returnLoss, b.span->returnLoss);
        out.span = span;
    }
    return out;
}

}  // namespace clendo::otdr
