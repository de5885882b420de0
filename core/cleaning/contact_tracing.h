#pragma once
#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <set>
#include <unordered_map>
#include <vector>

#include "cleaning/contacts.h"

namespace clendo {

/// suspectsIn() for events that keep coming: what one of them changes is followed from face to face, and nothing else is looked at.
///
/// Two things are known of each event for each of its faces, right after it. The *lead*: the next event over which dirt on the face comes to a bad
/// look; it follows from the leads of the events after it. The *arrival*: how dirt that comes to a bad look came onto the face; it follows from the
/// leads and from the arrivals before it. So a change goes backward along the leads first, then forward along the arrivals.
class ContactTracing {
public:
    void add(const FaceEvent& event);
    /// A look that was added became another kind, by the word of a person.
    void change(std::size_t event, FaceEvent::Kind kind);
    /// The faces that are suspect now and were not when this was asked last, or for another reason, or no longer.
    std::set<FaceId> changed();
    /// Why a face is suspect; nothing: it is not.
    [[nodiscard]] const Suspicion* suspicion(const FaceId& face) const;
    [[nodiscard]] std::map<FaceId, Suspicion> suspects() const;

private:
    using Place = std::uint32_t;  ///< of an event or a face
    static constexpr Place none = static_cast<Place>(-1);

    struct Arrival {
        bool there = false;
        Place event = none;  ///< the contact over which it came, or the fit look after which it began; none: it began before the first event
        bool operator==(const Arrival&) const = default;
    };
    struct Side {
        Place face = none, before = none, after = none;  ///< events of the same face
        Place lead = none;
        Arrival arrival;
    };
    struct Event {
        FaceEvent::Kind kind = FaceEvent::Kind::Joined;
        std::int64_t entry = 0, at = 0;
        std::array<Side, 2> sides;
    };
    struct Face {
        FaceId name;
        Place first = none, last = none, lastLook = none;
        std::optional<Suspicion> suspicion;
    };

    Place placeOf(const FaceId& face);
    void link(Place event, std::size_t side);
    [[nodiscard]] std::size_t sideOf(Place event, Place face) const { return events_[event].sides[0].face == face ? 0 : 1; }
    [[nodiscard]] Place leadBefore(Place event, std::size_t side) const;
    [[nodiscard]] Place leadAfter(Place event, std::size_t side) const;
    [[nodiscard]] Arrival arrivalBefore(Place event, std::size_t side) const;
    [[nodiscard]] Arrival arrivalAfter(Place event, std::size_t side) const;
    bool settleLeads(Place event);
    bool settleArrivals(Place event);
    void settleAll();
    void settleChanged();
    [[nodiscard]] std::optional<Suspicion> explain(Place face) const;

    std::vector<Event> events_;
    std::vector<Face> faces_;
    std::unordered_map<FaceId, Place, FaceIdHash> places_;
    std::set<Place> back_, forth_;  ///< events of which leads, arrivals may be different
    std::set<Place> touched_;       ///< faces of which something may be different
    std::set<Place> suspects_;
    std::size_t settled_ = 0;   ///< events that were there when it was asked last
    bool pastChanged_ = false;  ///< something of those is different: so may be the ways of all suspects
};

}  // namespace clendo
