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
    std::optional<Second> spared;                  ///< returns that would have been needed, had nobody looked
    Second assumedReturn;                          ///< what one return costs with its way, as it was asked for
    double assumedShare = 1;                       ///< of dirty faces that would have been found out later, as it was asked for
    std::vector<std::string> sentences;
};

/// Between two entries of one device that lie further apart than this somebody did something else.
constexpr Second longestDeed{600};

/// `journal`: of which the state is the fold. `assumedReturn`: what one return costs with its way; `share`: of the faces that were dirty, how many
/// would have called somebody back. Both are assumptions and are said to be.
PriceOfLooks priceOfLooks(const JobState& state, std::span<const Entry> journal, Second assumedReturn, double share);

}  // namespace clendo
