#include "record/rules/plan_match.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "otdr/joint.h"
#include "record/rules/plan_alignment.h"

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

/// The joints of a shot with distances from the link's port at A; none where those cannot be known.
std::vector<Seen> jointsFromA(const TraceShot& shot)
{
    std::vector<Seen> out;
    for (const auto& e : shot.found.events)
        if (const auto at = fromA(shot, e.at); at && otdr::isJoint(e)) out.push_back({*at, e.loss, e.reflectance});
    return out;
}

/// "38 m from splice manhole 3 towards Breakwater Hut", by what was found of the plan, else by where it was planned.
std::string whereWords(Metre at, const std::vector<LineRow>& elements, const CablePlan& cable)
{
    const LineRow* best = nullptr;
    const auto placeOf = [](const LineRow& row) { return row.found.value_or(row.planned.value_or(Metre(0))); };
    for (const auto& row : elements)
        if (!best || std::abs((at - placeOf(row)).value()) < std::abs((at - placeOf(*best)).value())) best = &row;
    if (!best) return {};
    const Metre off = at - placeOf(*best);
    return fmt::format("{:.0f} m from {} towards {}", std::abs(off.value()), best->name, off > Metre(0) ? cable.placeB : cable.placeA);
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

std::optional<Metre> fromA(const TraceShot& shot, Metre onTrace)
{
    const auto& span = shot.found.span;
    if (shot.direction == Direction::AtoB) return onTrace - (span ? span->from : shot.cords.launch);
    if (span) return span->to - onTrace;
    const auto& events = shot.found.events;
    if (events.empty() || events.back().kind != EventKind::End) return std::nullopt;
    return events.back().at - shot.cords.tail - onTrace;
}

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

namespace {

bool sameSettings(const TraceShot& a, const TraceShot& b)
{
    return a.direction == b.direction && std::abs((a.wavelength - b.wavelength).value()) < sameWavelength.value();
}

/// Whether another shot shows the line as it was at this one, and not as it was when the fibre was shot like this before.
class SameVisit {
public:
    SameVisit(const LinkState& state, const TraceShot& shot)
    {
        for (const auto& t : state.traces) {
            if (t.what.trace == shot.trace && sameSettings(t.what, shot)) {
                at_ = t.at;
                break;
            }
            if (sameSettings(t.what, shot)) before_ = t.at;
        }
    }
    [[nodiscard]] bool has(const Filed<TraceShot>& other) const
    {
        if (!at_ || !before_) return true;
        return 2 * std::abs(other.at - *at_) < std::abs(*at_ - *before_) || other.at > *at_;
    }

private:
    std::optional<std::int64_t> at_, before_;
};

}  // namespace

std::vector<const TraceShot*> otherWavelengths(const LinkState& state, const TraceShot& shot)
{
    const SameVisit visit(state, shot);
    std::vector<const TraceShot*> out;
    for (auto it = state.traces.rbegin(); it != state.traces.rend(); ++it)
        if (it->what.direction == shot.direction && !sameSettings(it->what, shot) && visit.has(*it)) out.push_back(&it->what);
    return out;
}

const TraceShot* otherWay(const LinkState& state, const TraceShot& shot)
{
    const auto* back = latestShot(state, shot.direction == Direction::AtoB ? Direction::BtoA : Direction::AtoB, shot.wavelength);
    return back && SameVisit(state, shot).has(*back) ? &back->what : nullptr;
}

const Filed<TraceShot>* firstShot(const LinkState& state, const TraceShot& shot)
{
    const auto first = std::find_if(state.traces.begin(), state.traces.end(), [&](const auto& t) {
        return t.what.direction == shot.direction && std::abs((t.what.wavelength - shot.wavelength).value()) < sameWavelength.value() &&
               t.what.found.span;
    });
    return first == state.traces.end() || first->what.trace == shot.trace ? nullptr : &*first;
}

std::optional<otdr::TwoWavelengths> atOtherWavelength(const LinkState& state, const TraceShot& shot, Metre from)
{
    const auto nearestEvent = [&](const TraceShot& of) -> const Event* {
        const Event* best = nullptr;
        double least = nearestReach.value();
        for (const auto& e : of.found.events) {
            const auto at = fromA(of, e.at);
            if (!at || !otdr::isJoint(e)) continue;
            if (const double off = std::abs((*at - from).value()); off <= least) {
                least = off;
                best = &e;
            }
        }
        return best;
    };
    const Event* here = nearestEvent(shot);
    if (!here) return std::nullopt;
    for (const TraceShot* other : otherWavelengths(state, shot))
        if (const Event* there = nearestEvent(*other))
            if (auto both = otdr::compareWavelengths(*here, shot.wavelength, *there, other->wavelength)) return both;
    return std::nullopt;
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
    const auto connection = [&](Connection where, Metre at) -> LineRow& {
        LineRow& row = plan(link.port(where), "connection", at);
        row.connection = where;
        if (const LimitSet* limits = state.plan->limitsFor(cable))
            row.reflectanceLimit = cable.classAt(where).ends_with("apc") ? limits->angledReflectance : limits->reflectance;
        return row;
    };
    const auto planEnd = [&](End end, Metre at) {
        LineRow& row = connection(end, at);
        const bool near = (shot.direction == Direction::AtoB) == (end == End::A);
        if (cordAt(shot, end) == Metre(0)) row.notMeasurable = near ? "no launch cord was used" : "no tail cord was used";
    };
    planEnd(End::A, Metre(0));
    for (const auto& splice : cable.splices) plan("splice " + splice.name, "splice", splice.at);
    for (int n = 1; n <= static_cast<int>(cable.inner.size()); ++n) connection(Connection::inner(n), cable.inner[static_cast<std::size_t>(n - 1)].at);
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
    std::stable_sort(rows.begin(), rows.end(), [](const LineRow& a, const LineRow& b) { return *a.planned < *b.planned; });
    std::vector<PlannedJoint> planned;
    for (const auto& row : rows) planned.push_back({*row.planned, row.kind == "connection"});
    std::vector<SeenJoint> found;
    std::sort(seen.begin(), seen.end(), [](const Seen& a, const Seen& b) { return a.at < b.at; });
    for (const auto& s : seen) found.push_back({s.at, s.reflectance.has_value()});
    const PlanAlignment alignment = alignPlan(planned, found);
    for (std::size_t i = 0; i < planned.size(); ++i) {
        if (!alignment.seenOf[i]) continue;
        Seen& s = seen[*alignment.seenOf[i]];
        s.used = true;
        take(rows[i], s);
        const Metre off = s.at - planned[i].at * alignment.scale;
        if (std::abs(off.value()) > std::max(nearestReach.value(), 0.01 * planned[i].at.value())) rows[i].shifted = off;
    }
    const std::vector<LineRow> elements = rows;
    for (const auto& s : seen)
        if (!s.used) {
            LineRow& row = rows.emplace_back();
            row.name = "not in the plan";
            row.kind = "not planned";
            row.limit = limitOf(s.reflectance.has_value());  // what reflects is no fusion splice
            row.where = whereWords(s.at, elements, cable);
            take(row, s);
        }
    std::stable_sort(rows.begin(), rows.end(), [](const LineRow& a, const LineRow& b) {
        return a.found.value_or(a.planned.value_or(Metre(0))) < b.found.value_or(b.planned.value_or(Metre(0)));
    });
    return rows;
}

}  // namespace clendo
