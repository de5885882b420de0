// Reels of cable: judged as they were delivered, and cut.
#include <filesystem>
#include <memory>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "files/files.h"
#include "files/rule_files.h"
#include "otdr/sor_reader.h"
#include "record/rules/trace_naming.h"
#include "reel/cutting_plan.h"
#include "reel/reel_json.h"
#include "result/guarded.h"

namespace clendo::cli {
namespace {

using nlohmann::json;

/// The fibre of a trace: as its file or its name says it, else its place in the list of those that were drawn, else in that of the files.
int fibreOf(const otdr::Trace& trace, const reel::DeliveryRequest& request, std::size_t place)
{
    constexpr int any = 10'000;  // where it was not said how many there are
    const int fibres = request.delivery.fibres > 1 ? request.delivery.fibres : any;
    const auto stem = std::filesystem::path(request.traces[place]).stem().string();
    if (const auto said = fibreOnReel(trace, stem, request.delivery.reel, fibres)) return *said;
    const auto& sample = request.sample;
    return sample && place < sample->drawn.size() ? sample->drawn[place] : static_cast<int>(place) + 1;
}

Result<json> judged(const std::filesystem::path& file)
{
    const auto text = readFile(file);
    if (!text) return tl::unexpected(text.error());
    const auto table = reel::SamplingTable::load(RuleFiles(dataFolder()));
    if (!table) return tl::unexpected(table.error());
    const auto request = reel::deliveryFromJson(*text, *table);
    if (!request) return tl::unexpected(request.error());
    std::vector<reel::ReelShot> shots;
    for (std::size_t i = 0; i < request->traces.size(); ++i) {
        const auto path = file.parent_path() / request->traces[i];
        const auto bytes = readFile(path);
        if (!bytes) return tl::unexpected(bytes.error());
        const auto trace = otdr::readSor(*bytes, request->traces[i]);
        if (!trace) return tl::unexpected(trace.error());
        shots.push_back(
            {fibreOf(*trace, *request, i), trace->wavelength, trace->spacing(), request->launch, otdr::analyse(*trace, {request->launch, {}})});
    }
    return reel::judgeReel(request->delivery, request->sample, shots).map([&](const reel::ReelReport& report) {
        return reel::toJson(request->delivery, request->sample, report);
    });
}

Result<json> cut(const std::string& text)
{
    return reel::cuttingWishFromJson(text).and_then(
        [](const reel::CuttingWish& wish) { return reel::planCuts(wish).map([](const reel::CuttingPlan& plan) { return reel::toJson(plan); }); });
}

}  // namespace

void addReelCommands(CLI::App& program, Outcome& outcome)
{
    auto files = std::make_shared<std::vector<std::string>>();
    auto* command = program.add_subcommand("reel", "Judge reels of cable as they were delivered");
    command->add_option("deliveries", *files, "JSON files, one each; traces lie beside them")->required();
    command->callback([files, &outcome] {
        for (const auto& file : *files) {
            const auto said = guarded([&] { return judged(file); });
            if (!said) outcome.status = 1;
            print(said ? *said : json{{"file", file}, {"error", toJson(said.error())}});
        }
    });
    addJsonCommand(program, outcome, {"cut", "Which reel serves which run, with few joints and little waste", "plans"}, cut);
}

}  // namespace clendo::cli
