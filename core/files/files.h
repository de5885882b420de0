#pragma once
#include <cstddef>
#include <filesystem>
#include <string>

#include "result/result.h"

namespace clendo {

/// The whole file as bytes, or an Error when it cannot be read or is larger than `largest`.
/// Folders, devices and missing files are Errors too.
Result<std::string> readFile(const std::filesystem::path& path, std::size_t largest = std::size_t{256} << 20);

/// Whether a file has to be on the disk before it is said to be written: what is lost in a power cut can be made again, or not.
enum class Sync { No, Yes };

/// Writes `bytes` beside `path`, under a name that nobody can have planted, and renames: `path` is either as before or whole.
Result<void> writeFile(const std::filesystem::path& path, std::string_view bytes, Sync sync = Sync::Yes);

/// Makes sure that a file or folder is on the disk.
Result<void> syncToDisk(const std::filesystem::path& path);

/// Puts a finished file or folder in its place, on the disk before and after. Where something is there already it is replaced, or (`replace` false)
/// the Error says so and nothing is changed.
Result<void> moveIntoPlace(const std::filesystem::path& finished, const std::filesystem::path& place, bool replace);

/// The folder with criteria, limits and fibre constants: $CLENDO_DATA, else beside the installed program
/// (`../share/clendo/data`), else in the source tree
/// that the program was built in (`../../../data` from build/<preset>/<part>). No folder of the builder's is compiled in.
std::filesystem::path dataFolder();

/// SHA-256 of `bytes` as 64 hexadecimal digits: the name under which a job keeps evidence.
std::string sha256(std::string_view bytes);

}  // namespace clendo
