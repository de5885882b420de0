#pragma once
#include <optional>
#include <string>
#include <vector>

#include "record/facts/light_facts.h"

namespace clendo {

/// What is in hand, by names in the kit; empty: not said.
struct LightGear {
    std::vector<std::string> with;     ///< source, meter and cord of the reference
    std::string launch;                ///< what conditions it on multimode, for people
    std::optional<FaceId> freeEnd;     ///< of the source's cord; nothing: not said
    std::string launchCord;            ///< whose measured loss is taken off; empty: none
    std::optional<FaceId> receiveEnd;  ///< of the meter's cord, that goes to the link; nothing: not said
    std::string provenCord{};          ///< that a proof puts on behind

    /// The reference as it is set with what is in hand.
    [[nodiscard]] ReferenceSet set(ReferenceSet reference) const
    {
        reference.with = with;
        reference.launch = launch;
        reference.freeEnd = freeEnd;
        reference.launchCord = launchCord;
        return reference;
    }
};

}  // namespace clendo
