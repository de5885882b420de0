#include "record/rules/plan_match.h"

#include <algorithm>
#include <cmath>

namespace clendo {
namespace {

using otdr::Event;
using otdr::EventKind;

constexpr Metre nearestReach{5};  // what launch cords, group index and sampling leave uncertain, whatever the length

struct Seen {
    Metre at;
    std::optional<Decibel> loss, reflectance;
    bool used = false;
};

/// The cord between the instrument and the link, or between the link and the instrument, that was at this end.
Metre cordAt(const TraceShot& shot, End end) { return (shot.direction == Direction::AtoB) == (end == End::A) ? shot.cords.launch : shot.cords.tail; }

/// The joints of a shot with distances from the link's port at A.
std::vector<Seen> jointsFromA(const TraceShot& shot)
{
    std::vector<Seen> out;
    const auto& events = shot.found.events;
    const bool ended = !events.empty() && events.back().kind == EventKind::End;
    if (shot.direction == Direction::BtoA && !ended) return out;
    for (const auto& e : events) {
        if (e.kind != EventKind::Reflective && e.kind != EventKind::Loss && e.kind != EventKind::Gain) continue;
        out.push_back({(shot.direction == Direction::AtoB ? e.at : events.back().at - e.at) - cordAt(shot, End::A), e.loss, e.reflectance});
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

const Filed<TraceShot>* latestShot(const LinkState& state, Direction direction, Nanometre wavelength)
{
    const Filed<TraceShot>* last = nullptr;
    for (auto it = state.traces.rbegin(); it != state.traces.rend(); ++it) {
        if (it->what.direction != direction || std::abs((it->what.wavelength - wavelength).value()) >= sameWavelength.value()) continue;
        if (it->what.found.span) return &*it;
        if (!last) last = &*it;
    }
    return last;
}

const TraceShot* otherWay(const LinkState& state, const TraceShot& shot)
{
    const auto* back = latestShot(state, shot.direction == Direction::AtoB ? Direction::BtoA : Direction::AtoB, shot.wavelength);
    return back ? &back->what : nullptr;
}

std::vector<LineRow> matchPlan(const JobState& state, const Link& link, const TraceShot& shot)
{
    const CablePlan& cable = *link.cable;
    const auto limitOf = [&](bool connection) {
        const LimitSet* limits = state.plan->limitsFor(cable);
        return limits ? std::optional(connection ? limits->connection : limits->splice) : std::nullopt;
    };
    std::vector<LineRow> rows;
    const auto plan = [&](std::string name, const char* kind, Metre at) -> LineRow& {
        LineRow& row = rows.emplace_back();
        row.name = std::move(name);
        row.kind = kind;
        row.planned = at;
        row.limit = limitOf(row.kind == "connection");
        return row;
    };
    const auto planEnd = [&](End end, Metre at) {
        LineRow& row = plan(link.port(end), "connection", at);
        const bool near = (shot.direction == Direction::AtoB) == (end == End::A);
        if (cordAt(shot, end) == Metre(0)) row.notMeasurable = near ? "no launch cord was used" : "no tail cord was used";
    };
    planEnd(End::A, Metre(0));
    for (const auto& splice : cable.splices) plan("splice " + splice.name, "splice", splice.at);
    for (int n = 1; n <= static_cast<int>(cable.inner.size()); ++n)
        plan(link.port(Connection::inner(n)), "connection", cable.inner[static_cast<std::size_t>(n - 1)].at);
    planEnd(End::B, cable.length);
    auto seen = jointsFromA(shot);
    const TraceShot* back = otherWay(state.state(link.id), shot);
    auto seenBack = back ? jointsFromA(*back) : std::vector<Seen>{};
    const Metre bothEnds{std::clamp(cable.length.value() / 100, nearestReach.value(), 15.0)};
    const auto take = [&](LineRow& row, const Seen& s) {
        row.found = s.at;
        row.loss = s.loss;
        row.reflectance = s.reflectance;
        if (const Seen* b = nearest(seenBack, s.at, bothEnds); b && b->loss && s.loss) row.bothWays = (*s.loss + *b->loss) / 2;
    };
    for (auto& row : rows) {
        const Metre reach{std::max(nearestReach.value(), 0.03 * row.planned->value())};  // plans are paced, not measured
        if (const Seen* s = nearest(seen, *row.planned, reach)) take(row, *s);
    }
    for (const auto& s : seen)
        if (!s.used) {
            LineRow& row = rows.emplace_back();
            row.name = "not in the plan";
            row.kind = "not planned";
            row.limit = limitOf(s.reflectance.has_value());  // what reflects is no fusion splice
            take(row, s);
        }
    std::stable_sort(rows.begin(), rows.end(), [](const LineRow& a, const LineRow& b) {
        return a.found.value_or(a.planned.value_or(Metre(0))) < b.found.value_or(b.planned.value_or(Metre(0)));
    });
    return rows;
}

}  // namespace clendo
