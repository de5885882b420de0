#include "record/facts/rule_facts.h"

#include "record/state/state.h"

namespace clendo {

void CriteriaKept::plan(JobPlan& plan) const { plan.ownCriteria[edition] = text; }

void RulesKept::plan(JobPlan& plan) const { plan.keptRules.insert_or_assign(file, text); }

}  // namespace clendo
