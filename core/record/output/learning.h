#pragma once
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// How often something went right.
struct Share {
    std::string of;
    int right = 0, all = 0;
};

/// What the journal teaches. A face's first evidence counts once; and so does its first cleaning: right where one was enough.
struct Learned {
    Share firstTimeFit;               ///< over all faces that were seen
    std::vector<Share> byConnector;   ///< first look fit
    std::vector<Share> byPlace;       ///< first look fit
    std::vector<Share> bySide;        ///< cord ends, ports
    std::vector<Share> byCord;        ///< looks at test cords that were fit
    std::vector<Share> byMethod;      ///< faces that it cleaned first: fit at the next look, without another cleaning
    std::vector<Share> byTool;        ///< the same
    std::vector<Share> goneByMethod;  ///< "dry on particle": findings that one cleaning took away
    std::vector<Share> byDirt;        ///< "dry on dust": crowded faces that one cleaning was done on, fit at the next look
    std::vector<Share> troublePorts;  ///< most cleanings first: cleanings it took; `right` is 1 where it is fit now
    std::vector<KitItem> used;        ///< of the kit, what is counted, the most used up first
};

Learned learn(const JobState& state);

}  // namespace clendo
