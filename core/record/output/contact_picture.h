#pragma once
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// Who touched whom, in time, around one face: a lane for each face, a column for each moment. Nothing here is drawn.
struct ContactPicture {
    struct Lane {
        FaceId face;
        std::string where;
        FaceCondition condition = FaceCondition::NotSeen;
        bool suspect = false;
    };
    struct Look {
        std::size_t lane = 0, column = 0;
        bool fit = false;
    };
    struct Touch {
        std::size_t from = 0, to = 0, column = 0;  ///< lanes; where it is on the way of a suspicion, in the direction of the dirt
        bool onWay = false;
    };
    std::vector<Lane> lanes;  ///< the one where dirt was found first, then along its way, then who else touched these
    std::vector<Look> looks;
    std::vector<Touch> touches;
    std::vector<std::int64_t> times;  ///< of the columns, rising
    std::string story;                ///< the same in a sentence or two, and what was pressed into each other
    std::size_t leftOut = 0;          ///< faces that touched these and have no lane: there are too many
};

/// `face` and all that its suspicion goes through; of a face that was found bad: all that are suspect because of it; else whom it touched.
/// At most `mostLanes` lanes (2 and more).
ContactPicture contactPicture(const JobState& state, const FaceId& face, std::size_t mostLanes = 12);

}  // namespace clendo
