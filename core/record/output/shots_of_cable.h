#pragma once
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// Shots of a cable's fibres that can be laid over each other: from one end, at one wavelength.
struct ShotsOfCable {
    struct Row {
        const Link* link;
        const TraceShot* shot;  ///< null: it was not shot so
    };
    Direction direction = Direction::AtoB;
    Nanometre wavelength;
    std::vector<Row> rows;  ///< all fibres that carry light, in order
    [[nodiscard]] std::size_t shot() const;
};

/// All that there are, those with most fibres first.
std::vector<ShotsOfCable> shotsOfCable(const JobState& state, const CablePlan& cable);

}  // namespace clendo
