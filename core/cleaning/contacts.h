#pragma once
#include <cstdint>
#include <map>
#include <span>
#include <vector>

#include "plant/plan.h"
#include "sharing/shared_vector.h"

namespace clendo {

/// What matters for dirt that goes from face to face, in the order in which it happened.
struct FaceEvent {
    enum class Kind {
        SeenFit,  ///< `a` was clean then
        SeenBad,  ///< `a` was found dirty or damaged
        Joined    ///< `a` and `b` touched
    };
    Kind kind = Kind::Joined;
    FaceId a, b;
    std::int64_t entry = 0;  ///< of the journal
    std::int64_t at = 0;     ///< seconds since 1970-01-01 UTC
};

/// Two faces that touched.
struct Contact {
    FaceId from, to;  ///< in the direction in which the dirt would have gone
    std::int64_t entry = 0, at = 0;
    bool operator==(const Contact&) const = default;
};

/// Why a face is no longer trusted: the way from the face that was found bad, contact by contact. The dirt need not have begun there: some
/// face on the way may have had it first and given it to both.
struct Suspicion {
    FaceId found;  ///< the face that was seen bad
    std::int64_t foundEntry = 0;
    std::int64_t since = 0;    ///< when this face was touched
    std::vector<Contact> way;  ///< from `found` to the suspect; the first touches `found`
    bool operator==(const Suspicion&) const = default;
};

/// Which faces may carry dirt that was found elsewhere, and why. Dirt may come onto any face at any time after it was last seen fit; it goes over to
/// whatever touches the face, in both directions, in the order of time; only a fit look clears it. A face is suspect where some beginning explains
/// both a bad look and dirt on this face now. A face whose own last look was bad is not listed: it is known.
std::map<FaceId, Suspicion> suspectsIn(std::span<const FaceEvent> events);

/// All contacts of these faces, in the order of time.
std::vector<Contact> contactsOf(const SharedVector<FaceEvent>& events, const std::vector<FaceId>& faces);

}  // namespace clendo
