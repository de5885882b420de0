#include "record/facts/rule_facts.h"

#include "record/state/state.h"

namespace clendo {

void ProfileKept::plan(JobState& state) const { state.ownProfiles[edition] = text; }

void RulesKept::plan(JobState& state) const { state.keptRules.insert_or_assign(file, text); }

}  // namespace clendo
