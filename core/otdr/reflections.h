#pragma once
#include <cstddef>
#include <optional>
#include <vector>

#include "otdr/signal.h"

namespace clendo::otdr {

/// A place where the trace leaves the fibre's line, by index. The clean fibre begins again at `clean`.
struct Candidate {
    std::size_t start = 0, clean = 0;
    double at = 0;  ///< m: where it begins, between two points
};

struct FoundPlaces {
    std::vector<Candidate> places;   ///< between launch and end, in order
    std::size_t launchClean = 0;     ///< where the launch's dead zone is over
    std::optional<std::size_t> end;  ///< where the backscatter stops; nothing: it goes on beyond the trace
    bool endPeak = false;
    double endAt = 0;  ///< m, of a peak
    bool anyLight = false;
};

/// Reflections and the end. `typicalSlope` dB per metre (negative) is what the fibre is expected to have.
FoundPlaces searchReflections(const Signal& signal, double typicalSlope);

}  // namespace clendo::otdr
