#include "record/plan_match.h"

#include <algorithm>
#include <cmath>

namespace clendo {
namespace {

using otdr::Event;
using otdr::EventKind;

struct Seen {
    Metre at;
    std::optional<Decibel> loss, reflectance;
    bool used = false;
};

/// The joints of a shot with distances from A's front panel.
std::vector<Seen> jointsFromA(const TraceShot& shot)
{
    std::vector<Seen> out;
    const auto& events = shot.found.events;
    const bool ended = !events.empty() && events.back().kind == EventKind::End;
    if (shot.direction == Direction::BtoA && !ended) return out;
    for (const auto& e : events) {
        if (e.kind != EventKind::Reflective && e.kind != EventKind::Loss && e.kind != EventKind::Gain) continue;
        out.push_back({shot.direction == Direction::AtoB ? e.at : events.back().at - e.at, e.loss, e.reflectance});
    }
    return out;
}

Seen* nearest(std::vector<Seen>& seen, Metre at, Metre reach)
{
    Seen* best = nullptr;
    for (auto& s : seen) {
        const double off = std::abs((s.at - at).value());
        if (!s.used && off <= reach.value() && (!best || off < std::abs((best->at - at).value()))) best = &s;
    }
    if (best) best->used = true;
    return best;
}

}  // namespace

const TraceShot* otherWay(const LinkState& state, const TraceShot& shot)
{
    for (auto it = state.traces.rbegin(); it != state.traces.rend(); ++it)
        if (it->direction != shot.direction && it->wavelength == shot.wavelength) return &*it;
    return nullptr;
}

std::vector<LineRow> matchPlan(const JobState& state, const Link& link, const TraceShot& shot)
{
    const CablePlan& cable = *link.cable;
    const Metre launch = shot.direction == Direction::AtoB ? shot.cords.launch : shot.cords.tail;
    const auto limitOf = [&](bool connection) {
        const LimitSet* limits = state.limitsFor(cable);
        return limits ? std::optional(connection ? limits->connection : limits->splice) : std::nullopt;
    };
    std::vector<LineRow> rows;
    rows.push_back({link.where({link.id, End::A, Side::Port}), "connection", launch, {}, {}, limitOf(true), {}, {}});
    for (const auto& splice : cable.splices) rows.push_back({"splice " + splice.name, "splice", launch + splice.at, {}, {}, limitOf(false), {}, {}});
    rows.push_back({link.where({link.id, End::B, Side::Port}), "connection", launch + cable.length, {}, {}, limitOf(true), {}, {}});
    auto seen = jointsFromA(shot);
    const TraceShot* back = otherWay(state.state(link.id), shot);
    auto seenBack = back ? jointsFromA(*back) : std::vector<Seen>{};
    // plans are paced, not measured: 3 % and at least 15 m off is still the planned place
    for (auto& row : rows) {
        const Metre reach{std::max(15.0, 0.03 * row.planned->value())};
        if (const Seen* s = nearest(seen, *row.planned, reach)) {
            row.found = s->at;
            row.loss = s->loss;
            row.reflectance = s->reflectance;
            if (const Seen* b = nearest(seenBack, s->at, Metre(15)); b && b->loss && s->loss) row.bothWays = (*s->loss + *b->loss) / 2;
        }
    }
    for (const auto& s : seen)
        if (!s.used) rows.push_back({"not in the plan", "not planned", {}, s.at, s.loss, {}, s.reflectance, {}});
    std::stable_sort(rows.begin(), rows.end(), [](const LineRow& a, const LineRow& b) {
        return a.found.value_or(a.planned.value_or(Metre(0))) < b.found.value_or(b.planned.value_or(Metre(0)));
    });
    return rows;
}

}  // namespace clendo
