#pragma once
#include <span>
#include <vector>

#include "record/facts/facts.h"

namespace clendo {

/// How often people say otherwise about findings of one appearance.
struct OverrulingsOf {
    Appearance appearance = Appearance::Other;
    int found = 0;    ///< in all looks that count
    int notReal = 0;  ///< of these, said not to be there
    int renamed = 0;  ///< of these, said to be of the other kind
};

/// Per appearance in the order of its enumeration, those that were found at least once; and what people added.
struct Overrulings {
    std::vector<OverrulingsOf> kinds;
    int missed = 0;  ///< findings that people added
    int looks = 0;
};

/// Counts over the journal; corrected entries count for nothing, and of two words about one finding the later counts.
Overrulings overrulingsIn(std::span<const Entry> entries);

}  // namespace clendo
