#include "cleaning/contact_tracing.h"

#include <algorithm>

namespace clendo {

using Kind = FaceEvent::Kind;

ContactTracing::Place ContactTracing::placeOf(const FaceId& face)
{
    const auto [it, fresh] = places_.emplace(face, static_cast<Place>(faces_.size()));
    if (fresh) faces_.emplace_back().name = face;
    return it->second;
}

void ContactTracing::link(Place event, std::size_t side)
{
    Side& here = events_[event].sides[side];
    Face& face = faces_[here.face];
    here.before = face.last;
    if (face.last == none)
        face.first = event;
    else
        events_[face.last].sides[sideOf(face.last, here.face)].after = event;
    face.last = event;
    if (events_[event].kind != Kind::Joined) face.lastLook = event;
    if (settled_ == 0) return;  // all of them are looked at
    if (here.before != none) back_.insert(here.before);
    touched_.insert(here.face);
}

void ContactTracing::add(const FaceEvent& event)
{
    const auto place = static_cast<Place>(events_.size());
    Event& added = events_.emplace_back();
    added.kind = event.kind;
    added.entry = event.entry;
    added.at = event.at;
    if (event.kind == Kind::Joined && event.a == event.b) return;  // a face does not touch itself
    added.sides[0].face = placeOf(event.a);
    if (event.kind == Kind::Joined) added.sides[1].face = placeOf(event.b);
    for (std::size_t side = 0; side < 2; ++side)
        if (added.sides[side].face != none) link(place, side);
    if (settled_ > 0) forth_.insert(place);
}

void ContactTracing::change(std::size_t event, Kind kind)
{
    Event& changed = events_[event];
    if (changed.kind == kind) return;
    changed.kind = kind;
    pastChanged_ = true;
    touched_.insert(changed.sides[0].face);
    if (changed.sides[0].before != none) back_.insert(changed.sides[0].before);
    forth_.insert(static_cast<Place>(event));
}

/// The lead of a face right before an event.
ContactTracing::Place ContactTracing::leadBefore(Place event, std::size_t side) const
{
    const Event& e = events_[event];
    switch (e.kind) {
        case Kind::SeenFit: return none;
        case Kind::SeenBad: return event;
        case Kind::Joined: break;
    }
    if (e.sides[side].lead != none) return e.sides[side].lead;
    return e.sides[1 - side].lead != none ? event : none;
}

ContactTracing::Place ContactTracing::leadAfter(Place event, std::size_t side) const
{
    const Side& here = events_[event].sides[side];
    return here.after == none ? none : leadBefore(here.after, sideOf(here.after, here.face));
}

ContactTracing::Arrival ContactTracing::arrivalBefore(Place event, std::size_t side) const
{
    const Side& here = events_[event].sides[side];
    if (here.before == none) return {leadBefore(event, side) != none, none};
    return events_[here.before].sides[sideOf(here.before, here.face)].arrival;
}

ContactTracing::Arrival ContactTracing::arrivalAfter(Place event, std::size_t side) const
{
    const Event& e = events_[event];
    if (e.kind == Kind::SeenFit) return e.sides[side].lead == none ? Arrival() : Arrival{true, event};
    const Arrival own = arrivalBefore(event, side);
    if (e.kind == Kind::SeenBad || own.there) return own;
    return arrivalBefore(event, 1 - side).there ? Arrival{true, event} : Arrival();
}

/// Over which event would dirt on its faces come to a bad look? Whether that is another one now.
bool ContactTracing::settleLeads(Place event)
{
    bool changed = false;
    for (std::size_t side = 0; side < 2; ++side) {
        Side& here = events_[event].sides[side];
        if (here.face == none) continue;
        const Place lead = leadAfter(event, side);
        changed = changed || lead != here.lead;
        here.lead = lead;
    }
    return changed;
}

/// May dirt be on its faces after it, and how did it come there? Whether that is different now.
bool ContactTracing::settleArrivals(Place event)
{
    bool changed = false;
    for (std::size_t side = 0; side < 2; ++side) {
        Side& here = events_[event].sides[side];
        if (here.face == none) continue;
        const Arrival arrival = arrivalAfter(event, side);
        changed = changed || !(arrival == here.arrival);
        here.arrival = arrival;
    }
    return changed;
}

/// The leads from the last event to the first, then the arrivals from the first to the last.
void ContactTracing::settleAll()
{
    const auto all = static_cast<Place>(events_.size());
    for (Place event = all; event-- > 0;) settleLeads(event);
    for (Place event = 0; event < all; ++event) settleArrivals(event);
    for (Place face = 0; face < faces_.size(); ++face) touched_.insert(face);
}

/// The same, as far as something is different.
void ContactTracing::settleChanged()
{
    while (!back_.empty()) {
        const Place event = *std::prev(back_.end());
        back_.erase(std::prev(back_.end()));
        if (!settleLeads(event)) continue;
        forth_.insert(event);
        pastChanged_ = pastChanged_ || event < settled_;
        for (const Side& side : events_[event].sides)
            if (side.before != none) back_.insert(side.before);
    }
    while (!forth_.empty()) {
        const Place event = *forth_.begin();
        forth_.erase(forth_.begin());
        if (!settleArrivals(event)) continue;
        pastChanged_ = pastChanged_ || event < settled_;
        for (const Side& side : events_[event].sides) {
            if (side.face != none) touched_.insert(side.face);
            if (side.after != none) forth_.insert(side.after);
        }
    }
}

/// Back from the suspect to where the dirt may have begun, on from there to the bad look; told the other way round.
std::optional<Suspicion> ContactTracing::explain(Place suspect) const
{
    const Face& of = faces_[suspect];
    Place face = suspect;
    Arrival arrival = events_[of.last].sides[sideOf(of.last, face)].arrival;
    const bool known = of.lastLook != none && events_[of.lastLook].kind == Kind::SeenBad;
    if (!arrival.there || known) return std::nullopt;
    std::vector<Contact> way;
    const auto contact = [&](Place event, Place from, Place to) {
        return Contact{faces_[from].name, faces_[to].name, events_[event].entry, events_[event].at};
    };
    const auto other = [&](Place event) { return events_[event].sides[1 - sideOf(event, face)].face; };
    while (arrival.event != none && events_[arrival.event].kind == Kind::Joined) {
        const Place event = arrival.event, before = other(event);
        way.push_back(contact(event, before, face));
        face = before;
        arrival = arrivalBefore(event, sideOf(event, face));
    }
    const Place first = faces_[face].first;
    Place lead = arrival.event == none ? leadBefore(first, sideOf(first, face)) : events_[arrival.event].sides[0].lead;
    while (events_[lead].kind == Kind::Joined) {
        const Place next = other(lead);
        way.push_back(contact(lead, next, face));
        face = next;
        lead = events_[lead].sides[sideOf(lead, face)].lead;
    }
    std::reverse(way.begin(), way.end());
    const Event& found = events_[lead];
    const std::int64_t since = way.empty() ? found.at : way.back().at;
    return Suspicion{faces_[found.sides[0].face].name, found.entry, since, std::move(way)};
}

std::set<FaceId> ContactTracing::changed()
{
    if (settled_ == 0) {
        settleAll();
        back_.clear();
        forth_.clear();
    } else {
        settleChanged();
    }
    if (std::exchange(pastChanged_, false)) touched_.insert(suspects_.begin(), suspects_.end());
    std::set<FaceId> out;
    for (const Place place : std::exchange(touched_, {})) {
        auto now = explain(place);
        Face& face = faces_[place];
        if (now == face.suspicion) continue;
        if (now)
            suspects_.insert(place);
        else
            suspects_.erase(place);
        face.suspicion = std::move(now);
        out.insert(face.name);
    }
    settled_ = events_.size();
    return out;
}

const Suspicion* ContactTracing::suspicion(const FaceId& face) const
{
    const auto it = places_.find(face);
    return it == places_.end() || !faces_[it->second].suspicion ? nullptr : &*faces_[it->second].suspicion;
}

std::map<FaceId, Suspicion> ContactTracing::suspects() const
{
    std::map<FaceId, Suspicion> out;
    for (const Place place : suspects_) out.emplace(faces_[place].name, *faces_[place].suspicion);
    return out;
}

}  // namespace clendo
