#pragma once
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "record/output/learning.h"

namespace clendo {

/// What looking costs, and what it spares: from the journal's own times.
struct PriceOfLooks {
    /// How long one of a kind takes: the middle one of those of which it is known.
    struct Took {
        int counted = 0;
        std::optional<Second> middle;  ///< nothing: none is known
    };
    Took look, clean;
    Took comeBack;         ///< from the moment when a mated face was found bad until it was fit again: a return, without the way there
    int looks = 0;         ///< at faces of the job, pictures that were no evidence too
    int dirtyAtFirst = 0;  ///< faces that were not fit when they were seen first
    int firstLooks = 0;
    std::vector<Share> dirtyByPlace, dirtyByCord;  ///< `right` counts the dirty ones
    std::optional<Second> spent;                   ///< on all looks; nothing: not known
};

/// Between two entries of one device that lie further apart than this somebody did something else.
constexpr Second longestDeed{600};

/// What is assumed, and said to be: what one return costs with its way, and how many of the dirty faces would have called for one.
struct ReturnsAssumed {
    Second each;
    double share = 1;  ///< 0 to 1
};

/// `journal`: of which the state is the fold. One pass over it.
PriceOfLooks priceOfLooks(const JobState& state, std::span<const Entry> journal);
/// The returns that looking spared, under the assumption.
Second spared(const PriceOfLooks& price, const ReturnsAssumed& assumed);
/// All of it in words.
std::vector<std::string> wordsOf(const PriceOfLooks& price, const ReturnsAssumed& assumed);

}  // namespace clendo
