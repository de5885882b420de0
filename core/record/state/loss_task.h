#pragma once
#include <vector>

#include "power/loss.h"
#include "record/state/job_plan.h"

namespace clendo {

/// The loss task of a link from its readings and the references that were good when they were read.
LossTask lossTaskOf(const Link& link, ReferenceMethod method, const std::vector<Reading>& readings);

}  // namespace clendo
