#include "files/rule_files.h"

#include "files/files.h"

namespace clendo {

RuleFiles::RuleFiles(std::filesystem::path dataFolder, Texts kept)
    : data_(std::move(dataFolder)), kept_(std::move(kept)), used_(std::make_shared<Texts>())
{
}

Result<std::string> RuleFiles::shipped(const std::string& name) const { return read(name, data_ / name); }

Result<std::string> RuleFiles::own(const std::string& path) const { return read(path, path); }

Result<std::string> RuleFiles::read(const std::string& name, const std::filesystem::path& path) const
{
    constexpr std::size_t largest = std::size_t{4} << 20;
    const auto kept = kept_.find(name);
    auto text = kept == kept_.end() ? readFile(path, largest) : Result<std::string>(kept->second);
    if (text) used_->insert_or_assign(name, *text);
    return text;
}

}  // namespace clendo
