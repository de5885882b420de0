#include "files/log_file.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <cstdlib>
#include <fstream>

namespace clendo {

void LogFile::write(std::string_view line)
{
    const std::lock_guard lock(mutex_);
    std::error_code ignored;
    std::filesystem::create_directories(path_.parent_path(), ignored);
    const auto size = std::filesystem::file_size(path_, ignored);
    if (!ignored && size + line.size() > most_) std::filesystem::rename(path_, path_.string() + ".1", ignored);
    std::ofstream out(path_, std::ios::app | std::ios::binary);
    std::string one(line.substr(0, static_cast<std::size_t>(most_ / 2)));
    for (char& c : one)
        if (c == '\n' || c == '\r') c = ' ';  // a line is a line, whatever a file or an instrument said
    out << fmt::format("{:%Y-%m-%dT%H:%M:%SZ} {}\n", fmt::gmtime(std::time(nullptr)), one);
}

void LogFile::write(const Error& error)
{
    write(error.detail.empty() ? fmt::format("{}: {}", codeName(error.code), error.message)
                               : fmt::format("{}: {} [{}]", codeName(error.code), error.message, error.detail));
}

std::filesystem::path stateFolder()
{
    const char* state = std::getenv("XDG_STATE_HOME");
    if (state && *state) return std::filesystem::path(state) / "clendo";
    const char* home = std::getenv("HOME");
    return std::filesystem::path(home && *home ? home : ".") / ".local/state/clendo";
}

LogFile& programLog()
{
    static LogFile log(stateFolder() / "log" / "clendo.log");
    return log;
}

}  // namespace clendo
