// Commands that read one JSON file and answer with one object: what is computed of light.
#include <memory>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "files/files.h"
#include "power/link_budget_json.h"
#include "power/loss_json.h"
#include "power/polarity_json.h"

namespace clendo::cli {
namespace {

using Answer = Result<nlohmann::json>;

Answer loss(const std::string& text)
{
    return lossRequestFromJson(text).and_then([](const LossRequest& request) {
        return loadLimits(request.limits, request.task.load.fibre, dataFolder()).map([&](const LimitSet& limits) {
            return clendo::toJson(computeLoss(request.task, limits));
        });
    });
}

Answer polarity(const std::string& text)
{
    return polarityMapFromJson(text).and_then(
        [](const PolarityMap& map) { return explain(map).map([&](const PolarityReport& report) { return clendo::toJson(map, report); }); });
}

Answer linkBudget(const std::string& text, Statistics statistics)
{
    return budgetRequestFromJson(text).and_then([&](const BudgetRequest& request) -> Answer {
        const RuleFiles rules(dataFolder());
        const auto limits = loadLimits(request.limits, request.fibre, rules);
        if (!limits) return tl::unexpected(limits.error());
        const auto typical = loadTypicalLosses(rules);
        if (!typical) return tl::unexpected(typical.error());
        const auto applications = loadApplications(rules);
        if (!applications) return tl::unexpected(applications.error());
        return planBudget(request.plan, *limits, *typical, *applications, statistics).map([](const LinkBudget& b) { return clendo::toJson(b); });
    });
}

}  // namespace

void addPowerCommands(CLI::App& program, Outcome& outcome)
{
    addJsonCommand(program, outcome, {"loss", "Compute loss, limit and margin of links", "links"}, loss);
    addJsonCommand(program, outcome, {"polarity", "Name what is wrong where light comes out at other fibres than planned", "maps"}, polarity);
    auto drawn = std::make_shared<bool>(false);
    addJsonCommand(program, outcome, {"budget", "What planned links will lose, and which applications they carry", "links"},
                   [drawn](const std::string& text) { return linkBudget(text, *drawn ? Statistics::MonteCarlo : Statistics::RootOfSquares); })
        ->add_flag("--statistical", *drawn, "Draw losses instead of adding their squares");
}

}  // namespace clendo::cli
