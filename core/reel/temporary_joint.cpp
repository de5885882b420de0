#include "reel/temporary_joint.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "otdr/joint.h"

namespace clendo::reel {

using otdr::Event;
using otdr::EventKind;

std::string_view name(JointState state)
{
    switch (state) {
        case JointState::Good: return "good";
        case JointState::Poor: return "poor";
        case JointState::Dead: return "dead";
        case JointState::NotKnown: break;
    }
    return "unknown";
}

JointReading readJoint(const otdr::Analysis& found, Metre launch, Decibel allowed, std::optional<Metre> expected)
{
    using Where = JointReading::Where;
    JointReading out;
    const Event* end = !found.events.empty() && found.events.back().kind == EventKind::End ? &found.events.back() : nullptr;
    if (found.events.empty()) {
        out.joint = launch > Metre(0) ? JointState::NotKnown : JointState::Dead;
        out.where = launch > Metre(0) ? Where::LaunchCord : Where::Joint;
        out.next = launch > Metre(0) ? "No light at all: prove the launch cord and the port first."
                                     : "No light comes back: do the joint again before the reel is blamed.";
        return out;
    }
    const Metre reach = std::max(launch * 0.02, Metre(3));
    if (launch > Metre(0) && end && end->at < launch - reach) {
        out.where = Where::LaunchCord;
        out.next =
            fmt::format("The light ends at {:.0f} m, within the launch cord of {:.0f} m: that one is broken, not the reel. Take it out of the kit.",
                        end->at.value(), launch.value());
        return out;
    }
    const auto lossy = std::find_if(found.events.begin(), found.events.end(),
                                    [&](const Event& e) { return otdr::isJoint(e) && e.at < launch - reach && e.loss && *e.loss > allowed; });
    if (launch > Metre(0) && lossy != found.events.end()) {
        out.where = Where::LaunchCord;
        out.next = fmt::format(
            "{:.1f} dB are lost at {:.0f} m, within the launch cord of {:.0f} m: that one is crushed or bent, nothing is said of the reel. Take it "
            "out of "
            "the kit.",
            lossy->loss->value(), lossy->at.value(), launch.value());
        return out;
    }
    if (launch > Metre(0) && end && end->at <= launch + reach) {
        out.joint = JointState::Dead;
        out.where = Where::Joint;
        out.next = "The light ends at the joint: strip, cleave and put it in again before the reel is blamed.";
        return out;
    }
    if (end) out.fibre = end->at - launch;
    if (launch > Metre(0)) {
        for (const Event& e : found.events)
            if (otdr::isJoint(e) && std::abs((e.at - launch).value()) <= reach.value() && e.loss) out.jointLoss = e.loss;
        out.joint = !out.jointLoss ? JointState::Good : *out.jointLoss > allowed ? JointState::Poor : JointState::Good;
        if (out.joint == JointState::Poor)
            out.next = fmt::format("The joint loses {:.2f} dB; {:.2f} dB are allowed. Do it again before the reel is judged by this fibre.",
                                   out.jointLoss->value(), allowed.value());
    }
    constexpr double muchShorter = 0.9;
    if (expected && out.fibre && *out.fibre < *expected * muchShorter)
        out.next = fmt::format("The light ends after {:.0f} m of the reel, {:.0f} m are expected: this fibre is broken in the reel.",
                               out.fibre->value(), expected->value());
    return out;
}

}  // namespace clendo::reel
