#include "record/state/resting.h"

#include <fmt/format.h>

#include <algorithm>

#include "record/facts/reference_facts.h"

namespace clendo {
namespace {

/// What the launch cord of a reference loses, as it was proven last before this reading at its wavelength.
std::optional<LaunchCord> launchOf(const ReferenceSet& set, const JobState& state)
{
    if (set.launchCord.empty()) return std::nullopt;
    LaunchCord out;
    out.inReference = std::find(set.with.begin(), set.with.end(), set.launchCord) != set.with.end();
    const auto proof = std::find_if(state.proofs.rbegin(), state.proofs.rend(),
                                    [&](const auto& p) { return p.cord == set.launchCord && p.wavelength == set.wavelength; });
    if (proof == state.proofs.rend() || isGain(proof->loss)) return out;
    out.loss = proof->loss;
    out.measured = true;
    return out;
}

}  // namespace

std::optional<Doubt> restOn(KeptReading& kept, LightEffects::Reference& on, const PowerRead& read, const JobState& state, std::int64_t at)
{
    kept.entryEpoch = on.epoch;
    kept.warmUp = on.warmUp;
    kept.launchSaid = !on.set.launch.empty();
    kept.referenceTyped = !on.set.acquired;
    kept.launch = launchOf(on.set, state);
    on.fibres.insert(read.link);
    if (!on.good || on.set.zeroed != read.shown.has_value()) return std::nullopt;
    const Decibel loss = read.shown.value_or(on.set.level - read.power) - (kept.launch ? kept.launch->loss : Decibel(0));
    if (const auto most = state.plan->policyNumber("reference_age"); most && at - on.at > *most * 60)
        return Doubt{fmt::format("the reference was {} minutes old", (at - on.at) / 60), loss};
    if (const auto most = state.plan->policyNumber("reference_fibres"); most && static_cast<int>(on.fibres.size()) > *most)
        return Doubt{fmt::format("the reference had served {} fibres since it was last checked", on.fibres.size() - 1), loss};
    if (on.set.zeroed)
        kept.shown = read.shown;
    else
        kept.reference = on.set.level;
    return std::nullopt;
}

}  // namespace clendo
