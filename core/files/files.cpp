#include "files/files.h"

#include <fmt/format.h>
#include <sodium.h>

#include <array>
#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <fstream>

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

Result<void> writeFile(const fs::path& path, std::string_view bytes)
{
    const fs::path part = path.string() + ".part";
    {
        std::ofstream out(part, std::ios::binary | std::ios::trunc);
        out.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
        out.flush();
        if (!out) {
            const std::string why = std::strerror(errno);
            std::error_code ignored;
            fs::remove(part, ignored);
            return failure(Error::Code::ExportFailed,
                           fmt::format("“{}” could not be written ({}). Free some space or choose another folder.", path.string(), why));
        }
    }
    std::error_code ec;
    fs::rename(part, path, ec);
    if (ec)
        return failure(Error::Code::ExportFailed, fmt::format("“{}” could not be written ({}). Choose another folder.", path.string(), ec.message()));
    return {};
}

fs::path dataFolder()
{
    if (const char* chosen = std::getenv("CLENDO_DATA")) return chosen;
    std::error_code ec;
    const fs::path program = fs::read_symlink("/proc/self/exe", ec);
    if (!ec) {
        fs::path installed = program.parent_path().parent_path() / "share/clendo/data";
        if (fs::is_directory(installed, ec)) return installed;
    }
    return CLENDO_SOURCE_DATA;
}

std::string sha256(std::string_view bytes)
{
    std::array<unsigned char, crypto_hash_sha256_BYTES> digest{};
    crypto_hash_sha256(digest.data(), reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size());
    std::string hex;
    for (const auto byte : digest) hex += fmt::format("{:02x}", byte);
    return hex;
}

}  // namespace clendo
