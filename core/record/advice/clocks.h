#pragma once
#include <cstdint>
#include <optional>

#include "record/state/state.h"

namespace clendo {

/// What grows old while one works. Times in seconds since 1970-01-01 UTC.
struct Clocks {
    std::optional<std::int64_t> reference;  ///< when the oldest reference was set on which a reading would rest; nothing: there is none
    int open = 0;                           ///< faces that are fit, not mated and not covered
    std::int64_t oldest = 0;                ///< when the first of those was seen; 0: there is none
};

Clocks clocksOf(const JobState& state);

}  // namespace clendo
