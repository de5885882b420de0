#pragma once
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// A reading that has to be taken again: what it rested on does not hold.
struct ReadAgain {
    std::string link;
    Nanometre wavelength;
    Direction direction = Direction::AtoB;
    std::string why;      ///< "the reference had drifted by -0.14 dB when it was checked"
    Decibel margin{100};  ///< that it had, as far as it can still be told: how easily the verdict turns
};

/// All that rest on a reference that did not hold, of the readings that count. The smallest margin first: those few could change a verdict.
std::vector<ReadAgain> readAgain(const JobState& state);

/// Whether the job wants a reading of a link in a direction that is not there on a good reference.
bool lacksReading(const JobState& state, const Link& link, Direction direction);

}  // namespace clendo
