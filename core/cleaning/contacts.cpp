#include "cleaning/contacts.h"

#include <algorithm>
#include <set>

namespace clendo {
namespace {

constexpr std::size_t nothing = static_cast<std::size_t>(-1);

/// How dirt may have come onto a face: over a contact from another, or it began there.
struct Arrival {
    std::size_t contact = nothing;  ///< event; nothing: it began here
    std::size_t before = nothing;   ///< arrival on the face that it came from
    std::size_t lead = nothing;     ///< where it began: the event over which it comes to a bad look
};

class Tracing {
public:
    Tracing(std::span<const FaceEvent> events, const std::vector<std::pair<std::size_t, std::size_t>>& faces, const std::vector<FaceId>& names)
        : events_(events), faces_(faces), names_(names), leads_(events.size(), {nothing, nothing})
    {
    }

    std::map<FaceId, Suspicion> run()
    {
        backward();
        forward();
        std::map<FaceId, Suspicion> out;
        for (std::size_t n = 0; n < names_.size(); ++n)
            if (arrived_[n] != nothing && !bad_[n]) out.emplace(names_[n], explain(n));
        return out;
    }

private:
    /// From the last event to the first: over which event would dirt on a face come to a bad look?
    void backward()
    {
        begun_.assign(names_.size(), nothing);
        for (std::size_t i = events_.size(); i-- > 0;) {
            const auto [a, b] = faces_[i];
            switch (events_[i].kind) {
                case FaceEvent::Kind::SeenFit:
                    leads_[i].first = begun_[a];  // of the stretch that begins with this look
                    begun_[a] = nothing;
                    break;
                case FaceEvent::Kind::SeenBad: begun_[a] = i; break;
                case FaceEvent::Kind::Joined:
                    leads_[i] = {begun_[a], begun_[b]};  // where the way goes on after the contact
                    if (leads_[i].first == nothing && leads_[i].second != nothing) begun_[a] = i;
                    if (leads_[i].second == nothing && leads_[i].first != nothing) begun_[b] = i;
                    break;
            }
        }
    }

    /// From the first event to the last: where dirt may be, when it may have begun on every face from which it comes to a bad look.
    void forward()
    {
        arrived_.resize(names_.size());
        bad_.assign(names_.size(), false);
        for (std::size_t n = 0; n < names_.size(); ++n) arrived_[n] = begin(begun_[n]);
        for (std::size_t i = 0; i < events_.size(); ++i) {
            const auto [a, b] = faces_[i];
            switch (events_[i].kind) {
                case FaceEvent::Kind::SeenFit:
                    arrived_[a] = begin(leads_[i].first);
                    bad_[a] = false;
                    break;
                case FaceEvent::Kind::SeenBad: bad_[a] = true; break;
                case FaceEvent::Kind::Joined:
                    if ((arrived_[a] == nothing) == (arrived_[b] == nothing)) break;
                    const bool fromA = arrived_[a] != nothing;
                    arrivals_.push_back({i, arrived_[fromA ? a : b], nothing});
                    arrived_[fromA ? b : a] = arrivals_.size() - 1;
                    break;
            }
        }
    }
    std::size_t begin(std::size_t lead)
    {
        if (lead == nothing) return nothing;
        arrivals_.push_back({nothing, nothing, lead});
        return arrivals_.size() - 1;
    }

    [[nodiscard]] std::size_t other(std::size_t contact, std::size_t face) const
    {
        return faces_[contact].first == face ? faces_[contact].second : faces_[contact].first;
    }

    /// Back from the suspect to where the dirt may have begun, on from there to the bad look; told the other way round.
    [[nodiscard]] Suspicion explain(std::size_t suspect) const
    {
        const auto contact = [&](std::size_t i, std::size_t from, std::size_t to) {
            return Contact{names_[from], names_[to], events_[i].entry, events_[i].at};
        };
        std::vector<Contact> way;
        std::size_t face = suspect;
        const Arrival* arrival = &arrivals_[arrived_[suspect]];
        for (; arrival->contact != nothing; arrival = &arrivals_[arrival->before]) {
            const std::size_t before = other(arrival->contact, face);
            way.push_back(contact(arrival->contact, before, face));
            face = before;
        }
        std::size_t i = arrival->lead;
        while (events_[i].kind == FaceEvent::Kind::Joined) {
            const std::size_t next = other(i, face);
            way.push_back(contact(i, next, face));
            i = faces_[i].first == next ? leads_[i].first : leads_[i].second;
            face = next;
        }
        std::reverse(way.begin(), way.end());
        return {names_[faces_[i].first], events_[i].entry, way.empty() ? events_[i].at : way.back().at, way};
    }

    std::span<const FaceEvent> events_;
    const std::vector<std::pair<std::size_t, std::size_t>>& faces_;  ///< of each event
    const std::vector<FaceId>& names_;
    std::vector<std::pair<std::size_t, std::size_t>> leads_;  ///< of the faces of each event, right after it
    std::vector<std::size_t> begun_;                          ///< by face: the lead of its first stretch
    std::vector<Arrival> arrivals_;
    std::vector<std::size_t> arrived_;  ///< by face, now
    std::vector<bool> bad_;             ///< by face: its last look
};

}  // namespace

std::size_t ContactTracing::numberOf(const FaceId& face)
{
    const auto [it, fresh] = numbers_.emplace(face, names_.size());
    if (fresh) names_.push_back(face);
    return it->second;
}

std::map<FaceId, Suspicion> ContactTracing::suspectsIn(std::span<const FaceEvent> events)
{
    for (const auto& e : events.subspan(std::min(faces_.size(), events.size())))
        faces_.emplace_back(numberOf(e.a), e.kind == FaceEvent::Kind::Joined ? numberOf(e.b) : nothing);
    return Tracing(events, faces_, names_).run();
}

std::map<FaceId, Suspicion> suspectsIn(std::span<const FaceEvent> events) { return ContactTracing().suspectsIn(events); }

std::vector<Contact> contactsOf(std::span<const FaceEvent> events, const std::vector<FaceId>& faces)
{
    const std::set<FaceId> wanted(faces.begin(), faces.end());
    std::vector<Contact> out;
    for (const auto& e : events)
        if (e.kind == FaceEvent::Kind::Joined && (wanted.contains(e.a) || wanted.contains(e.b))) out.push_back({e.a, e.b, e.entry, e.at});
    return out;
}

}  // namespace clendo
