#pragma once
#include <QString>
#include <cstdint>
#include <optional>
#include <vector>

#include "files/evidence.h"
#include "record/facts/facts.h"

namespace clendo {

/// The delivery of the demo: three reels of 12 fibres for a new run along the sea wall. SW-1 is as ordered, SW-2 is short and has a fibre that loses
/// too much, SW-3 is not begun.
/// What has been filed of them when the demo opens, each with the trace that it rests on. `now`: seconds since 1970-01-01 UTC.
struct DemoFact {
    Fact fact;
    std::optional<Evidence> evidence{};
};
Result<std::vector<DemoFact>> demoDelivery(std::int64_t now);

/// What the OTDR saved of the reels that are not done, to be opened: SW-2 whole, and of SW-3 a joint that let no light through, one that was done
/// again, and a shot through a crushed launch cord.
Result<void> writeReelTraces(const QString& folder, std::int64_t takenAt);

}  // namespace clendo
