#pragma once
#include <cstddef>
#include <filesystem>
#include <string>

#include "result/result.h"

namespace clendo {

/// The whole file as bytes, or an Error when it cannot be read or is larger than `largest`.
/// Folders, devices and missing files are Errors too.
Result<std::string> readFile(const std::filesystem::path& path, std::size_t largest = std::size_t{256} << 20);

/// Writes `bytes` beside `path` and renames, so that `path` is either as before or whole.
Result<void> writeFile(const std::filesystem::path& path, std::string_view bytes);

/// The folder with criteria, limits and fibre constants: $CLENDO_DATA, else beside the installed program
/// (`../share/clendo/data`), else the source tree that the program was built from.
std::filesystem::path dataFolder();

/// SHA-256 of `bytes` as 64 hexadecimal digits: the name under which a job keeps evidence.
std::string sha256(std::string_view bytes);

}  // namespace clendo
