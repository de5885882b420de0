#include <memory>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "files/files.h"

namespace clendo::cli {

CLI::App* addJsonCommand(CLI::App& program, Outcome& outcome, const JsonCommand& what, JsonAnswer answer)
{
    auto files = std::make_shared<std::vector<std::string>>();
    auto* command = program.add_subcommand(what.name, what.words);
    command->add_option(what.files, *files, "JSON files, one each")->required();
    command->callback([files, &outcome, answer] {
        constexpr std::size_t largest = std::size_t{16} << 20;
        for (const auto& file : *files) {
            const auto said = readFile(file, largest).and_then(answer);
            if (!said) outcome.status = 1;
            print(said ? *said : nlohmann::json{{"file", file}, {"error", toJson(said.error())}});
        }
    });
    return command;
}

}  // namespace clendo::cli
