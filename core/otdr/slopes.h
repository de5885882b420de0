#pragma once
#include <cstddef>
#include <vector>

#include "otdr/signal.h"

namespace clendo::otdr {

/// What is known of the fibre's slope before this stretch is looked at: dB per metre (negative), one sigma.
struct SlopePrior {
    double slope = 0, sigma = 0;
};

/// The slope of a piece of fibre, one sigma, and its length in metres.
struct SlopeSeen {
    double slope = 0, error = 0, length = 0;
};
/// Of pieces that are long enough to have one (a few at most); `usual`: what slope is to be expected.
std::vector<SlopeSeen> slopesOf(const Signal& signal, std::size_t from, std::size_t to, double usual);
/// The middle one, which steps in a few of the pieces do not move; what is known before where there is none.
SlopePrior usualSlope(std::vector<SlopeSeen> slopes, const SlopePrior& before);

}  // namespace clendo::otdr
