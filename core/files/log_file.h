#pragma once
#include <filesystem>
#include <mutex>
#include <string_view>

#include "result/result.h"

namespace clendo {

/// A text file of what went wrong, line by line, with what the sentences for people leave out. It never grows beyond its limit: what is old goes into
/// the file beside it (".1"), and what was there before is forgotten. Any thread may write; that it cannot be written is no error.
class LogFile {
public:
    explicit LogFile(std::filesystem::path path, std::uintmax_t most = 256 * 1024) : path_(std::move(path)), most_(most) {}
    [[nodiscard]] const std::filesystem::path& path() const { return path_; }
    void write(std::string_view line);
    /// Code, sentence and detail.
    void write(const Error& error);

private:
    std::filesystem::path path_;
    std::uintmax_t most_;
    std::mutex mutex_;
};

/// Where this user's programs keep what they remember of themselves: $XDG_STATE_HOME/clendo, else ~/.local/state/clendo.
std::filesystem::path stateFolder();
/// The program's own log, in the folder "log" there.
LogFile& programLog();

}  // namespace clendo
