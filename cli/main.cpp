#include <cstdio>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "result/guarded.h"

namespace clendo::cli {

namespace {
bool lost = false;  ///< something could not be printed: nobody has the answer
}

bool everythingPrinted() { return !lost; }

void print(const nlohmann::json& object)
{
    const std::string line = object.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
    if (std::printf("%s\n", line.c_str()) < 0 || std::fflush(stdout) != 0) lost = true;
}

nlohmann::json toJson(const Error& error) { return {{"code", codeName(error.code)}, {"message", error.message}}; }

}  // namespace clendo::cli

int main(int argc, char** argv)
{
    using namespace clendo::cli;
    CLI::App program{"Judges fibre end faces, reads OTDR traces, computes loss, writes certificates. Output: one JSON object per input."};
    program.require_subcommand(1);
    Outcome outcome;
    addFaceCommand(program, outcome);
    addMatchCommand(program, outcome);
    addPowerCommands(program, outcome);
    addTraceCommands(program, outcome);
    addReelCommands(program, outcome);
    addCertificateCommand(program, outcome);
    addJobCommands(program, outcome);
    addKeyCommands(program, outcome);
    try {
        program.parse(argc, argv);
    } catch (const CLI::ParseError& problem) {
        // help is no mistake; everything else was called wrongly. Messages go to standard error.
        const bool asked = problem.get_exit_code() == 0;
        program.exit(problem, asked ? std::cout : std::cerr, std::cerr);
        return asked ? 0 : 2;
    } catch (...) {
        print({{"error", toJson(clendo::errorOfException())}});
        outcome.status = 1;
    }
    if (!everythingPrinted()) {
        std::fputs("The answer could not be written to standard output: is the disk full?\n", stderr);
        return 1;
    }
    return outcome.status;
}
