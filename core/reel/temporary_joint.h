#pragma once
#include <optional>
#include <string>

#include "otdr/analysis.h"

namespace clendo::reel {

/// How light got into the reel through its temporary joint.
enum class JointState { Good, Poor, Dead, NotKnown };
std::string_view name(JointState state);  ///< "good", "poor", "dead", "unknown"

/// What one shot through a temporary joint tells: of the launch cord, the joint, or the reel.
struct JointReading {
    enum class Where { Reel, Joint, LaunchCord };  ///< what the shot speaks of
    JointState joint = JointState::NotKnown;
    Where where = Where::Reel;
    std::optional<Metre> fibre;        ///< length of the reel's fibre, where its end was seen
    std::optional<Decibel> jointLoss;  ///< nothing: without a launch cord it cannot be known
    std::string next;                  ///< what to do, in a sentence; empty: nothing
};

/// `launch`: length of the launch cord, 0: none. `allowed`: what the joint may lose before it is done again. `expected`: length of the reel's fibre,
/// where it is known: light that ends much sooner ends in the reel.
JointReading readJoint(const otdr::Analysis& found, Metre launch, Decibel allowed, std::optional<Metre> expected);

}  // namespace clendo::reel
