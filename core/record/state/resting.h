#pragma once
#include "record/state/fact_effects.h"

namespace clendo {

/// Lets a reading rest on the reference that it names, unless that was voided or set in the other way (a level, or zero on the meter). Says why it
/// does not, where that is too old or has carried too many fibres.
std::optional<Doubt> restOn(KeptReading& kept, LightEffects::Reference& on, const PowerRead& read, const JobState& state, std::int64_t at);

}  // namespace clendo
