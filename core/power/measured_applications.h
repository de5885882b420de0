#pragma once
#include <vector>

#include "power/link_budget.h"
#include "power/loss.h"

namespace clendo {

/// Which applications a link carries as it was measured: the worse direction and its uncertainty against the channel's loss, the length against its
/// length, the better direction against its least loss. Not known where a wavelength of the application was not measured on a good reference, or the
/// method left out an end connection; reflectance is judged by nothing here. `length`: measured where it was, else planned.
std::vector<ApplicationBudget> measuredApplications(const LossReport& report, const std::string& fibre, Metre length,
                                                    const std::vector<Application>& applications);

}  // namespace clendo
