#include "cleaning/contacts.h"

#include <set>

#include "cleaning/contact_tracing.h"

namespace clendo {

std::map<FaceId, Suspicion> suspectsIn(std::span<const FaceEvent> events)
{
    ContactTracing tracing;
    for (const auto& event : events) tracing.add(event);
    (void)tracing.changed();
    return tracing.suspects();
}

std::vector<Contact> contactsOf(const SharedVector<FaceEvent>& events, const std::vector<FaceId>& faces)
{
    const std::set<FaceId> wanted(faces.begin(), faces.end());
    std::vector<Contact> out;
    for (const auto& e : events)
        if (e.kind == FaceEvent::Kind::Joined && (wanted.contains(e.a) || wanted.contains(e.b))) out.push_back({e.a, e.b, e.entry, e.at});
    return out;
}

}  // namespace clendo
