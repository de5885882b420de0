#include "record/facts/rule_facts.h"

#include "record/state/state.h"

namespace clendo {

void ProfileKept::plan(JobPlan& plan) const { plan.ownProfiles[edition] = text; }

void RulesKept::plan(JobPlan& plan) const { plan.keptRules.insert_or_assign(file, text); }

}  // namespace clendo
