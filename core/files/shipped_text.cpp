#include "files/shipped_text.h"

#include <map>
#include <mutex>

#include "files/files.h"

namespace clendo {
namespace {

constexpr std::size_t largestRules = std::size_t{4} << 20;

}  // namespace

Result<std::string> shippedText(const std::filesystem::path& folder, const std::string& name)
{
    static std::mutex mutex;
    static std::map<std::filesystem::path, std::string> texts;
    const std::filesystem::path file = folder / name;
    const std::lock_guard lock(mutex);
    if (const auto known = texts.find(file); known != texts.end()) return known->second;
    auto text = readFile(file, largestRules);
    if (text) texts.emplace(file, *text);
    return text;
}

void readAllShipped(const std::filesystem::path& folder)
{
    std::error_code ec;
    for (std::filesystem::recursive_directory_iterator file(folder, ec), end; !ec && file != end; file.increment(ec))
        if (file->path().extension() == ".json") static_cast<void>(shippedText(folder, file->path().lexically_relative(folder).string()));
}

}  // namespace clendo
