#pragma once
#include <string>
#include <vector>

#include "record/state/state.h"

namespace clendo {

/// Something about the kit, or about a plan and the kit, that wants a person: a sentence and what it is about.
struct KitTrouble {
    std::string about;  ///< an item's or a cable's name
    std::string sentence;
};

/// What is to be cleaned at a face: "cord", "adapter", "device" or "hardened", as tools name it.
std::string_view cleaningTarget(const JobState& state, const FaceId& face);

/// Tools of the kit that clean this target on this connector, the least used first.
std::vector<const KitItem*> toolsFor(const JobState& state, std::string_view connector, std::string_view target);

/// Whether a tool of the kit does a cleaning method: what is dry only does no wet one.
bool doesMethod(const JobState& state, const KitItem& tool, std::string_view method);

/// How many strokes or matings are left; nothing where none are counted.
std::optional<int> leftOn(const KitItem& item);

/// What to see to before the round: calibration, strokes and matings nearly used up, items never proven or found bad, and connectors of the plan
/// for which the kit has no tool or no tip. `now` in seconds since 1970-01-01 UTC.
std::vector<KitTrouble> readiness(const JobState& state, std::int64_t now);

/// What is wrong with the plan: unknown families, angled faces with flat ones, core sizes mixed, two cables on one port.
std::vector<KitTrouble> planTroubles(const std::vector<CablePlan>& cables, const std::vector<ConnectorFamily>& families);

/// What to carry to a face, in words: scope tip and tool, from the kit where it has them.
std::vector<std::string> carryFor(const JobState& state, const FaceId& face, bool toClean);

}  // namespace clendo
