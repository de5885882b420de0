#include "record/facts/scope_facts.h"

#include "record/state/fact_effects.h"

namespace clendo {

void ScopeCalibrated::apply(FactEffects& effects, const EntryHead& entry) const { effects.state().calibrations[scope] = {scale, entry.at()}; }

}  // namespace clendo
