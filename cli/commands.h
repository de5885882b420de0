#pragma once
#include <CLI/CLI.hpp>
#include <nlohmann/json_fwd.hpp>

#include "result/result.h"

namespace clendo::cli {

/// What a command has to say at the end: 0 every input was processed, 1 some could not be.
struct Outcome {
    int status = 0;
};

// Each adds its subcommand to the program; it runs when chosen and sets the outcome.
void addFaceCommand(CLI::App& program, Outcome& outcome);
void addLossCommand(CLI::App& program, Outcome& outcome);
void addCertificateCommand(CLI::App& program, Outcome& outcome);
void addTraceCommands(CLI::App& program, Outcome& outcome);  // trace and bidir

void addJobCommands(CLI::App& program, Outcome& outcome);  // verify and merge

/// Prints one JSON object as one line; bytes that are no UTF-8 are replaced.
void print(const nlohmann::json& object);
nlohmann::json toJson(const Error& error);
/// Whether all that was printed went out.
bool everythingPrinted();

}  // namespace clendo::cli
