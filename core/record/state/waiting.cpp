#include "record/state/waiting.h"

#include <string>

namespace clendo {
namespace {

constexpr std::int64_t clocksDiffer = 300;  // seconds by which the clocks of two people at one job may differ unnoticed

std::optional<std::int64_t> seconds(std::string_view minutes)
{
    return minutes == "never" ? std::nullopt : std::optional(60 * std::stoll(std::string(minutes)));
}

}  // namespace

WaitingLimits waitingLimits(const JobState& state) { return {seconds(state.policy("open")), seconds(state.policy("capped"))}; }

Waiting waitingOf(const FaceState& face, const WaitingLimits& limits, std::int64_t now)
{
    if (face.condition != FaceCondition::Fit || face.mated) return Waiting::InTime;
    const std::int64_t seen = face.lastJudged()->at, last = face.covered.empty() ? seen : face.coveredAt;
    if (last > now + clocksDiffer) return limits.open || limits.covered ? Waiting::NotKnown : Waiting::InTime;
    const std::int64_t open = (face.covered.empty() ? now : face.coveredAt) - seen, covered = face.covered.empty() ? 0 : now - face.coveredAt;
    if (limits.open && open > *limits.open) return Waiting::OpenTooLong;
    if (limits.covered && covered > *limits.covered) return Waiting::CoveredTooLong;
    return Waiting::InTime;
}

}  // namespace clendo
