#include <memory>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "files/files.h"
#include "power/loss_json.h"

namespace clendo::cli {
namespace {

nlohmann::json computeFile(const std::string& file)
{
    const auto report = readFile(file, std::size_t{16} << 20)
                            .and_then([](const std::string& text) { return lossRequestFromJson(text); })
                            .and_then([](const LossRequest& request) {
                                return loadLimits(request.limits, request.task.load.fibre, dataFolder()).map([&](const LimitSet& limits) {
                                    return computeLoss(request.task, limits);
                                });
                            });
    if (!report) return {{"file", file}, {"error", toJson(report.error())}};
    return clendo::toJson(*report);
}

}  // namespace

void addLossCommand(CLI::App& program, Outcome& outcome)
{
    auto files = std::make_shared<std::vector<std::string>>();
    auto* command = program.add_subcommand("loss", "Compute loss, limit and margin of links");
    command->add_option("links", *files, "JSON files, one link each")->required();
    command->callback([files, &outcome] {
        for (const auto& file : *files) {
            const auto line = computeFile(file);
            if (line.contains("error")) outcome.status = 1;
            print(line);
        }
    });
}

}  // namespace clendo::cli
