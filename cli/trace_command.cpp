#include <memory>

#include "cli/commands.h"
#include "files/files.h"
#include "otdr/sor_reader.h"
#include "otdr/trace_json.h"

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

nlohmann::json analyseFile(const std::string& file, const TraceArguments& arguments)
{
    nlohmann::json out{{"file", file}};
    const auto trace = load(file);
    if (!trace) return out["error"] = toJson(trace.error()), out;
    out.update(otdr::headerToJson(*trace));
    out.update(arguments.stored ? otdr::storedToJson(*trace) : otdr::toJson(otdr::analyse(*trace, arguments.cords())));
    return out;
}

nlohmann::json combineFiles(const TraceArguments& arguments)
{
    nlohmann::json out{{"files", arguments.files}};
    const auto a = load(arguments.files[0]), b = load(arguments.files[1]);
    if (!a || !b) return out["error"] = toJson(a ? b.error() : a.error()), out;
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
    trace->add_flag("--stored", arguments->stored, "report the events stored in the file");
    trace->add_option("files", arguments->files, "SR-4731 files")->required();
    trace->callback([arguments, &outcome] {
        for (const auto& file : arguments->files) {
            const auto line = analyseFile(file, *arguments);
            if (line.contains("error")) outcome.status = 1;
            print(line);
        }
    });
    auto both = std::make_shared<TraceArguments>();
    auto* bidir = program.add_subcommand("bidir", "Average two shots of one link, from A and from B");
    addCords(bidir, *both);
    bidir->add_option("files", both->files, "A-TO-B.sor B-TO-A.sor")->required()->expected(2);
    bidir->callback([both, &outcome] {
        const auto line = combineFiles(*both);
        if (line.contains("error")) outcome.status = 1;
        print(line);
    });
}

}  // namespace clendo::cli
