#include "files/rule_files.h"

#include "files/files.h"
#include "files/shipped_text.h"

namespace clendo {

RuleFiles::RuleFiles(std::filesystem::path dataFolder, Texts kept)
    : data_(std::move(dataFolder)), kept_(std::move(kept)), used_(std::make_shared<Texts>())
{
}

Result<std::string> RuleFiles::shipped(const std::string& name) const
{
    const auto kept = kept_.find(name);
    return remember(name, kept == kept_.end() ? shippedText(data_, name) : Result<std::string>(kept->second));
}

Result<std::string> RuleFiles::own(const std::string& path) const
{
    constexpr std::size_t largest = std::size_t{4} << 20;
    const auto kept = kept_.find(path);
    return remember(path, kept == kept_.end() ? readFile(path, largest) : Result<std::string>(kept->second));
}

Result<std::string> RuleFiles::remember(const std::string& name, Result<std::string> text) const
{
    if (text) used_->insert_or_assign(name, *text);
    return text;
}

}  // namespace clendo
