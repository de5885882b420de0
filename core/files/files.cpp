#include "files/files.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <fstream>

#include "files/digest.h"
#include "files/random_name.h"

namespace clendo {
namespace fs = std::filesystem;

Result<std::string> readFile(const fs::path& path, std::size_t largest)
{
    std::error_code ec;
    if (!fs::is_regular_file(path, ec))
        return failure(Error::Code::FileUnreadable, fmt::format("“{}” is not a file that can be read. Check the name and the drive.", path.string()),
                       ec.message());
    const auto size = fs::file_size(path, ec);
    if (ec) return failure(Error::Code::FileUnreadable, fmt::format("“{}” cannot be read. Check the drive.", path.string()), ec.message());
    if (size > largest)
        return failure(Error::Code::FileTooLarge,
                       fmt::format("“{}” has {} MB; at most {} MB are read. Is it the right file?", path.string(), size >> 20, largest >> 20));
    std::ifstream in(path, std::ios::binary);
    std::string bytes(static_cast<std::size_t>(size), '\0');
    in.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    if (!in && !in.eof())
        return failure(Error::Code::FileUnreadable, fmt::format("“{}” cannot be read. Check its permissions.", path.string()), std::strerror(errno));
    bytes.resize(static_cast<std::size_t>(in.gcount()));
    return bytes;
}

namespace {

tl::unexpected<Error> notWritten(const fs::path& path, int error)
{
    const bool full = error == ENOSPC || error == EDQUOT;
    return failure(full ? Error::Code::DiskFull : Error::Code::ExportFailed,
                   fmt::format("“{}” could not be written ({}). Free some space or choose another folder.", path.string(), std::strerror(error)));
}

bool writeAll(int file, std::string_view bytes)
{
    while (!bytes.empty()) {
        const ssize_t written = ::write(file, bytes.data(), bytes.size());
        if (written < 0 && errno == EINTR) continue;
        if (written <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(written));
    }
    return true;
}

}  // namespace

Result<void> writeFile(const fs::path& path, std::string_view bytes, Sync sync)
{
    // a name that nobody can have planted, and no link is followed
    const std::string part = fmt::format("{}.part-{}", path.string(), randomName(8));
    const int file = ::open(part.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0666);
    if (file < 0) return notWritten(path, errno);
    const bool written = writeAll(file, bytes) && (sync == Sync::No || ::fsync(file) == 0);
    const int error = errno;
    const bool closed = ::close(file) == 0;
    if (!written || !closed || ::rename(part.c_str(), path.c_str()) != 0) {
        const int why = !written ? error : errno;
        ::unlink(part.c_str());
        return notWritten(path, why);
    }
    return sync == Sync::Yes ? syncToDisk(path.has_parent_path() ? path.parent_path() : fs::path(".")) : Result<void>();
}

Result<void> syncToDisk(const fs::path& path)
{
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (file < 0) return notWritten(path, errno);
    const bool synced = ::fsync(file) == 0 || errno == EINVAL;  // some file systems cannot, and need not
    const int error = errno;
    ::close(file);
    return synced ? Result<void>() : notWritten(path, error);
}

Result<void> moveIntoPlace(const fs::path& finished, const fs::path& place, bool replace)
{
    if (auto ok = syncToDisk(finished); !ok) return ok;
    const unsigned flags = replace ? 0 : RENAME_NOREPLACE;
    if (::renameat2(AT_FDCWD, finished.c_str(), AT_FDCWD, place.c_str(), flags) != 0) {
        // file systems that do not know how to refuse: asked once more, just before
        std::error_code ec;
        const bool unknown = errno == EINVAL && !replace && !fs::exists(fs::symlink_status(place, ec));
        if (!unknown || ::rename(finished.c_str(), place.c_str()) != 0) return notWritten(place, errno);
    }
    return syncToDisk(place.has_parent_path() ? place.parent_path() : fs::path("."));
}

fs::path dataFolder()
{
    if (const char* chosen = std::getenv("CLENDO_DATA")) return chosen;
    std::error_code ec;
    const fs::path program = fs::read_symlink("/proc/self/exe", ec);
    if (!ec) {
        const fs::path folder = program.parent_path();  // <prefix>/bin, or <source>/build/<preset>/<part>
        for (const char* data : {"../share/clendo/data", "../../../data"})
            if (fs::is_directory(folder / data / "criteria", ec)) return (folder / data).lexically_normal();
    }
    return "data";
}

std::string sha256(std::string_view bytes) { return digestOf(bytes).hex(); }

}  // namespace clendo
