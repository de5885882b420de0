#include "otdr/ghosts.h"

#include <algorithm>
#include <cmath>

namespace clendo::otdr {
namespace {

/// Light that came from a reflector, or from an echo already, after one more way to and fro between two reflectors: there is that distance more, and
/// as much of it as both send back.
bool echoExplains(const std::vector<const Event*>& reflectors, const std::vector<const Event*>& echoes, const Event& e, double tolerance)
{
    const auto comesFrom = [&](const Event& source, const Event& a, const Event& b, bool twice) {
        if (std::abs((source.at + b.at - a.at - e.at).value()) > tolerance + 0.001 * e.at.value()) return false;
        const double strength = a.reflectance->value() + b.reflectance->value() + source.reflectance->value() + (twice ? 3 : 0);
        const double slack = a.saturated || b.saturated || source.saturated ? 25 : 6;
        if (strength > e.reflectance->value() - 8 && strength < e.reflectance->value() + 12) return true;
        return slack > 6 && strength < e.reflectance->value() && strength + slack > e.reflectance->value();
    };
    for (const Event* a : reflectors)
        for (const Event* b : reflectors) {
            if (!(a->at < b->at) || a == &e || b == &e) continue;
            for (const Event* c : reflectors)
                if (b->at <= c->at && c != &e && c->at < e.at && comesFrom(*c, *a, *b, b != c)) return true;
            for (const Event* echo : echoes)
                if (b->at < echo->at && comesFrom(*echo, *a, *b, true)) return true;
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
    std::vector<const Event*> echoes;  // in order: those of echoes come behind them
    for (auto& e : events) {
        if (e.kind != EventKind::Reflective || !e.loss || !e.reflectance) continue;
        if (std::abs(e.loss->value()) > std::max(0.05, 3 * e.lossUncertainty.value_or(Decibel(0)).value())) continue;
        if (!echoExplains(reflectors, echoes, e, tolerance)) continue;
        e.kind = EventKind::Ghost;
        std::erase(reflectors, &e);  // nothing is there that could reflect
        echoes.push_back(&e);
    }
}

}  // namespace clendo::otdr
