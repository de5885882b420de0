#pragma once
#include <nlohmann/json_fwd.hpp>

#include "power/link_budget.h"

namespace clendo {

/// A planned link as docs/cli.md describes it, and the name of its limits.
struct BudgetRequest {
    LinkPlan plan;
    std::string limits;
    std::string fibre;  ///< of its first piece
};
/// Errors: LinkInvalid names the place.
Result<BudgetRequest> budgetRequestFromJson(std::string_view text);
nlohmann::json toJson(const LinkBudget& budget);
nlohmann::json toJson(const ApplicationBudget& application);

}  // namespace clendo
