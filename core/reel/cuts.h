#pragma once
#include <string>
#include <vector>

#include "result/result.h"
#include "units/units.h"

namespace clendo::reel {

/// Cable on a reel that may be cut.
struct Stock {
    std::string reel;
    Metre length;
};
/// A length of cable that is to be laid, with what is added at its ends.
struct Run {
    std::string name;
    Metre length, slack;
    [[nodiscard]] Metre needed() const { return length + slack; }
};
struct CuttingWish {
    std::vector<Stock> reels;
    std::vector<Run> runs;
    bool jointAllowed = false;  ///< a run may be put together from pieces
    Metre keepLeast{0};         ///< what is left of a reel and shorter than this is waste
};

/// A piece that is cut from a reel for a run.
struct Cut {
    std::string run;
    Metre length;
};
struct ReelCuts {
    std::string reel;
    std::vector<Cut> cuts;  ///< in the order of the runs
    Metre left;
};
struct CuttingPlan {
    std::vector<ReelCuts> reels;        ///< those that are opened, in the order of the stock
    std::vector<std::string> unserved;  ///< runs for which there is not enough cable, or not for all of them
    int joints = 0;
    Metre waste, shortOf;  ///< what is left and too short to be kept; what would have to be bought
    bool optimal = false;  ///< nothing better can be; else the search was stopped
    double gap = 0;        ///< by how much joints or waste may still be worse than the best, as a share; 0 where it is optimal
};

/// An Error where the wish is none: no runs, lengths that are no lengths, names that are there twice.
Result<void> checked(const CuttingWish& wish);

/// What cuts come to that somebody chose: joints, waste, what is short. An Error where they name what is not in the wish, or cut more from a reel
/// than is on it, or more for a run than it needs. `optimal` is false: nobody searched.
Result<CuttingPlan> weigh(const CuttingWish& wish, const std::vector<ReelCuts>& cuts);

}  // namespace clendo::reel
