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

WaitingLimits waitingLimits(const JobPlan& plan) { return {seconds(plan.policy("open")), seconds(plan.policy("capped"))}; }

bool ages(const FaceState& face) { return face.condition == FaceCondition::Fit && !face.mated; }

Waiting waitingOf(const FaceState& face, const WaitingLimits& limits, std::int64_t now)
{
    if (!ages(face)) return Waiting::InTime;
    const std::int64_t seen = face.lastJudged()->at, last = face.covered.empty() ? seen : face.coveredAt;
    if (last > now + clocksDiffer) return limits.open || limits.covered ? Waiting::NotKnown : Waiting::InTime;
    const std::int64_t open = (face.covered.empty() ? now : face.coveredAt) - seen, covered = face.covered.empty() ? 0 : now - face.coveredAt;
    if (limits.open && open > *limits.open) return Waiting::OpenTooLong;
    if (limits.covered && covered > *limits.covered) return Waiting::CoveredTooLong;
    return Waiting::InTime;
}

std::optional<std::int64_t> waitingChangesAfter(const FaceState& face, const WaitingLimits& limits, std::int64_t now)
{
    if (!ages(face)) return std::nullopt;
    const bool covered = !face.covered.empty();
    const std::int64_t seen = face.lastJudged()->at, last = covered ? face.coveredAt : seen;
    std::vector<std::int64_t> moments{last - clocksDiffer};
    if (limits.open && !covered) moments.push_back(seen + *limits.open + 1);
    if (limits.covered && covered) moments.push_back(last + *limits.covered + 1);
    std::optional<std::int64_t> out;
    for (const auto moment : moments)
        if (moment > now && (!out || moment < *out)) out = moment;
    return out;
}

}  // namespace clendo
