#pragma once
#include <filesystem>
#include <string>

#include "result/result.h"

namespace clendo {

/// A file below a folder of rules, by its name there ("limits/generic-sm.json"). Read once in the life of the program, then kept in memory; an Error
/// is not kept. Safe from any thread.
Result<std::string> shippedText(const std::filesystem::path& folder, const std::string& name);

/// Reads all rules of a folder, so that whoever asks for one later waits for no disk. For a thread of its own when the program starts.
void readAllShipped(const std::filesystem::path& folder);

}  // namespace clendo
