#pragma once
#include <cstddef>
#include <vector>

#include "otdr/analysis.h"
#include "otdr/stretch.h"

namespace clendo::otdr {

/// Lengths that lose more than the fibre beside them, on one stretch between two reflections, and which of its steps are only their way down and no
/// joints of their own.
struct SectionsFound {
    std::vector<Section> sections;      ///< in order
    std::vector<std::size_t> explains;  ///< numbers of steps on the stretch
};

/// Least squares of one line with steps and one length of another slope, over all its begins and ends; it is kept where it says more than steps alone
/// do (by their likelihoods and how many numbers each takes), loses at least 0.1 dB and 40 % more than the fibre's usual slope.
SectionsFound findSections(const Signal& signal, const Stretch& stretch, const SlopePrior& usual);

}  // namespace clendo::otdr
