#pragma once
#include <CLI/CLI.hpp>
#include <functional>
#include <nlohmann/json_fwd.hpp>
#include <string>

#include "result/result.h"

namespace clendo::cli {

/// What a command has to say at the end: 0 every input was processed, 1 some could not be.
struct Outcome {
    int status = 0;
};

// Each adds its subcommand to the program; it runs when chosen and sets the outcome.
void addFaceCommand(CLI::App& program, Outcome& outcome);
void addMatchCommand(CLI::App& program, Outcome& outcome);
void addPowerCommands(CLI::App& program, Outcome& outcome);  // loss, polarity and budget
void addCertificateCommand(CLI::App& program, Outcome& outcome);
void addTraceCommands(CLI::App& program, Outcome& outcome);  // trace and bidir
void addReelCommands(CLI::App& program, Outcome& outcome);   // reel and cut

void addJobCommands(CLI::App& program, Outcome& outcome);  // verify and merge
void addKeyCommands(CLI::App& program, Outcome& outcome);  // key make, list, export, know

/// What "verify" says of a certificate's folder, or of a folder with several of them. `keys`: files of keys by one of which it must be signed; empty:
/// those that this user knows are looked up.
nlohmann::json verifiedFolder(const std::string& folder, const std::vector<std::string>& keys);
/// A passphrase: the first line of a file, "-" standard input.
Result<std::string> passphraseFrom(const std::string& file);

struct JsonCommand {
    std::string name, words;
    std::string files;  ///< what they are called in the help
};
/// From the text of a file.
using JsonAnswer = std::function<Result<nlohmann::json>(const std::string& text)>;
/// A subcommand that reads JSON files and prints one object for each.
CLI::App* addJsonCommand(CLI::App& program, Outcome& outcome, const JsonCommand& what, JsonAnswer answer);

/// Prints one JSON object as one line; bytes that are no UTF-8 are replaced.
void print(const nlohmann::json& object);
nlohmann::json toJson(const Error& error);
/// Whether all that was printed went out.
bool everythingPrinted();

}  // namespace clendo::cli
