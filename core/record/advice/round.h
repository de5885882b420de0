#pragma once
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

enum class StepKind { Look, Clean, Sleeve, Mate, Reference, Loss, RightFibre, Length, Trace, Sign };

/// One thing to do, in walking order.
struct Step {
    StepKind kind = StepKind::Look;
    std::string place;  ///< where one stands for it; "Both ends" for light
    std::string link;
    FaceId face;                     ///< for Look and Clean
    Connection connection;           ///< for Mate and Sleeve
    std::string title;               ///< "Look behind the adapter"
    std::string where;               ///< "TH-R2 port 7"
    std::vector<std::string> carry;  ///< what to take along, thing by thing
    std::string advice{};            ///< what else to think of
};

struct Round {
    std::vector<Step> left;  ///< what is still to do, the next one first
    int done = 0, all = 0;
};

/// What is left: by place in walking order (all A ends, then panels in between, then all B ends), at a place by connector, access, rack and panel;
/// then light through each fibre, then signatures. With a place: only what is to be done there, for two people at two ends.
Round roundOf(const JobState& state, std::string_view place = {});

/// The places of the plan in walking order.
std::vector<std::string> placesOf(const JobState& state);
/// What to carry for the steps at a place, each thing once.
std::vector<std::string> carryList(const std::vector<Step>& steps, std::string_view place);

}  // namespace clendo
