#include <fmt/format.h>

#include <cmath>
#include <memory>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "files/files.h"
#include "otdr/sor_reader.h"
#include "otdr/trace_json.h"
#include "record/fold/fold.h"
#include "record/rules/plan_match.h"
#include "record/state/rules.h"
#include "result/guarded.h"

namespace clendo::cli {
namespace {

struct TraceArguments {
    double launch = 0, tail = 0;
    std::string plan;
    bool stored = false;
    std::vector<std::string> files;
    [[nodiscard]] otdr::Cords cords() const { return {Metre(launch), Metre(tail)}; }
};

Result<otdr::Trace> load(const std::string& file)
{
    return readFile(file).and_then([&](const std::string& bytes) { return otdr::readSor(bytes, file); });
}

/// The planned elements beside what was found, as the window lists them. The plan is a cable as docs/cli.md describes it.
Result<nlohmann::json> matchWithPlan(const std::string& plan, const otdr::Trace& trace, const otdr::Analysis& found, const otdr::Cords& cords)
{
    const auto cable = readFile(plan, std::size_t{1} << 20).and_then([](const std::string& text) { return factFrom("cable_planned", text); });
    if (!cable) return tl::unexpected(cable.error());
    const std::string link = std::get<CablePlanned>(*cable).cable.id + "/1";
    const std::vector<Entry> entries{{{}, *cable}, {{}, TraceShot{link, Direction::AtoB, "", "", trace.wavelength, cords, found, {}}}};
    const Rules rules(dataFolder());
    const JobState state = fold(entries, rules);
    const auto number = [](const auto& value) { return value ? nlohmann::json(value->value()) : nlohmann::json(nullptr); };
    nlohmann::json rows = nlohmann::json::array();
    for (const auto& row : matchPlan(state, *state.link(link), state.state(link).traces.front().what))
        rows.push_back({{"name", row.name},
                        {"kind", row.kind},
                        {"planned_m", number(row.planned)},
                        {"found_m", number(row.found)},
                        {"at_m", number(row.found ? std::optional(*row.found + (found.span ? found.span->from : cords.launch)) : std::nullopt)},
                        {"shifted_m", number(row.shifted)},
                        {"where", row.where.empty() ? nlohmann::json(nullptr) : nlohmann::json(row.where)},
                        {"loss_db", number(row.loss)},
                        {"limit_db", number(row.limit)}});
    return rows;
}

nlohmann::json analyseFile(const std::string& file, const TraceArguments& arguments)
{
    nlohmann::json out{{"file", file}};
    const auto trace = load(file);
    if (!trace) return out["error"] = toJson(trace.error()), out;
    out.update(otdr::headerToJson(*trace));
    if (arguments.stored) return out.update(otdr::storedToJson(*trace)), out;
    const auto found = otdr::analyse(*trace, arguments.cords());
    out.update(otdr::toJson(found));
    if (arguments.plan.empty()) return out;
    const auto rows = matchWithPlan(arguments.plan, *trace, found, arguments.cords());
    out[rows ? "plan" : "error"] = rows ? *rows : toJson(rows.error());
    return out;
}

/// An answer whatever happens.
template <class Work>
nlohmann::json answered(nlohmann::json about, Work work)
{
    auto out = guardedResult(work);
    if (out) return std::move(*out);
    about["error"] = toJson(out.error());
    return about;
}

nlohmann::json combineFiles(const TraceArguments& arguments)
{
    nlohmann::json out{{"files", arguments.files}};
    const auto a = load(arguments.files[0]), b = load(arguments.files[1]);
    if (!a || !b) return out["error"] = toJson(a ? b.error() : a.error()), out;
    if (std::abs((a->wavelength - b->wavelength).value()) >= sameWavelength.value())
        return out["error"] = toJson(Error{
                   Error::Code::TraceImpossible,
                   fmt::format("One was shot at {:.0f} nm, the other at {:.0f} nm: a mean of both is no joint's loss. Take two of one wavelength.",
                               a->wavelength.value(), b->wavelength.value()),
                   {}}),
               out;
    out.update(otdr::headerToJson(*a));
    out.update(otdr::toJson(otdr::combine(*a, *b, arguments.cords())));
    return out;
}

void addCords(CLI::App* command, TraceArguments& arguments)
{
    // CLI::Range lets "nan" through, since no comparison with it is true
    const CLI::Validator metres(
        [](const std::string& text) {
            double value = 0;
            const bool ok = CLI::detail::lexical_cast(text, value) && value >= 0 && value <= 200000;
            return ok ? std::string() : std::string("a length from 0 to 200000 m");
        },
        "METRES");
    command->add_option("--launch", arguments.launch, "length of the launch cord, m")->check(metres);
    command->add_option("--tail", arguments.tail, "length of the tail cord, m")->check(metres);
}

}  // namespace

void addTraceCommands(CLI::App& program, Outcome& outcome)
{
    auto arguments = std::make_shared<TraceArguments>();
    auto* trace = program.add_subcommand("trace", "Find the events of OTDR traces");
    addCords(trace, *arguments);
    trace->add_option("--plan", arguments->plan, "a planned cable in JSON, to match events with")->check(CLI::ExistingFile);
    trace->add_flag("--stored", arguments->stored, "report the events stored in the file");
    trace->add_option("files", arguments->files, "SR-4731 files")->required();
    trace->callback([arguments, &outcome] {
        for (const auto& file : arguments->files) {
            const auto line = answered({{"file", file}}, [&] { return analyseFile(file, *arguments); });
            if (line.contains("error")) outcome.status = 1;
            print(line);
        }
    });
    auto both = std::make_shared<TraceArguments>();
    auto* bidir = program.add_subcommand("bidir", "Average two shots of one link, from A and from B");
    addCords(bidir, *both);
    bidir->add_option("files", both->files, "A-TO-B.sor B-TO-A.sor")->required()->expected(2);
    bidir->callback([both, &outcome] {
        const auto line = answered({{"files", both->files}}, [&] { return combineFiles(*both); });
        if (line.contains("error")) outcome.status = 1;
        print(line);
    });
}

}  // namespace clendo::cli
