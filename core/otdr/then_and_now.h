#pragma once
#include <optional>
#include <vector>

#include "otdr/analysis.h"

namespace clendo::otdr {

/// What became of a place since an earlier shot from the same end at the same wavelength.
struct Change {
    enum class Kind { Worse, Better, New, Gone, Shorter };  ///< Shorter: the fibre ends sooner now
    Kind kind = Kind::Worse;
    Metre at;  ///< of now; of what is gone, as it was then
    std::optional<Decibel> before, after;
    Decibel difference;   ///< after less before; of the length nothing
    Decibel uncertainty;  ///< one sigma
};

/// Changes that are beyond what both shots leave open (three sigma, and 0.05 dB), in the order of their places. Joints of both are the same where
/// they lie within `reach` of each other; small changes of the group index stretch one to the other.
std::vector<Change> changesSince(const Analysis& then, const Analysis& now, Metre reach);

}  // namespace clendo::otdr
