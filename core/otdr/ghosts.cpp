#include "otdr/ghosts.h"

#include <algorithm>
#include <cmath>

namespace clendo::otdr {
namespace {

bool echoExplains(const std::vector<const Event*>& reflectors, const Event& e, double tolerance)
{
    for (const Event* a : reflectors)
        for (const Event* b : reflectors)
            for (const Event* c : reflectors) {
                if (!(a->at < b->at) || !(b->at <= c->at) || a == &e || b == &e || c == &e || c->at >= e.at) continue;
                if (std::abs((b->at + c->at - a->at - e.at).value()) > tolerance + 0.001 * e.at.value()) continue;
                const double strength = a->reflectance->value() + b->reflectance->value() + c->reflectance->value() + (b == c ? 0 : 3);
                const double slack = a->saturated || b->saturated || c->saturated ? 25 : 6;
                if (strength > e.reflectance->value() - 8 && strength < e.reflectance->value() + 12) return true;
                if (slack > 6 && strength < e.reflectance->value() && strength + slack > e.reflectance->value()) return true;
            }
    return false;
}

}  // namespace

void nameGhosts(std::vector<Event>& events, const Signal& signal)
{
    const double tolerance = std::max({signal.pulseMetres(), 5 * signal.spacing(), 0.5});
    // echoes that can be seen come from strong reflectors; the others would only cost time
    constexpr std::size_t most = 24;
    std::vector<const Event*> reflectors;
    for (const auto& e : events)
        if (e.reflectance) reflectors.push_back(&e);
    std::sort(reflectors.begin(), reflectors.end(), [](const Event* a, const Event* b) { return *a->reflectance > *b->reflectance; });
    if (reflectors.size() > most) reflectors.resize(most);
    for (auto& e : events) {
        if (e.kind != EventKind::Reflective || !e.loss || !e.reflectance) continue;
        if (std::abs(e.loss->value()) > std::max(0.05, 3 * e.lossUncertainty.value_or(Decibel(0)).value())) continue;
        if (echoExplains(reflectors, e, tolerance)) e.kind = EventKind::Ghost;
    }
}

}  // namespace clendo::otdr
