#pragma once
#include <vector>

#include "criteria/finding.h"

namespace clendo::face {

/// Two marks, one on each of two faces, that are mirror images of each other: ids of the findings.
struct ImprintPair {
    int first = 0, second = 0;
};

/// What two faces pressed into each other. Faces that are mated look at each other: what is to the right on one is to the left on the other.
struct Imprint {
    std::vector<ImprintPair> pairs;  ///< at the turn at which most marks meet
    double byChance = 1;             ///< how often two faces with as many marks at these distances from the fibre have so many pairs at some turn
    /// Rare enough to be said.
    [[nodiscard]] bool believed() const { return pairs.size() >= 3 && byChance <= 1e-4; }
};

/// The marks of two faces held against each other as mirror images, at any turn: pictures are taken at any turn. Of crowded faces the 40 largest
/// count. Pure; chance is reckoned from how many marks lie as far from the fibre (each turn puts each mark at an even chance on its circle).
Imprint imprintOf(const std::vector<Finding>& first, const std::vector<Finding>& second);

}  // namespace clendo::face
