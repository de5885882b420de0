#pragma once
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// What a link may lose on the way at one wavelength, as its limit counts it.
struct PlannedLoss {
    /// The loss that may have come together up to a place, from the port at A; two at one place are a step.
    struct Point {
        Metre at;
        Decibel loss;
    };
    Nanometre wavelength;
    Decibel limit;
    std::vector<Point> points;  ///< from nothing to the limit
};

/// By the wavelengths of the job that suit the cable, by the method of the readings that are there, else by the job's. Empty where no limit applies.
std::vector<PlannedLoss> plannedLoss(const JobState& state, const Link& link);

}  // namespace clendo
