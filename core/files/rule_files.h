#pragma once
#include <filesystem>
#include <map>
#include <memory>
#include <string>
#include <string_view>

#include "result/result.h"

namespace clendo {

/// Where criteria, limits and fibre constants are read from: what a job keeps comes before what is installed, so that a job opens elsewhere with
/// the same verdicts. Remembers what was read.
class RuleFiles {
public:
    using Texts = std::map<std::string, std::string, std::less<>>;  ///< by file name: "limits/generic-sm.json"

    RuleFiles(std::filesystem::path dataFolder, Texts kept = {});  // NOLINT(google-explicit-constructor): a folder is where most rules are

    /// A file below the data folder, from memory where it was read before.
    [[nodiscard]] Result<std::string> shipped(const std::string& name) const;
    /// A user's own file, by its path.
    [[nodiscard]] Result<std::string> own(const std::string& path) const;
    /// All that was read through this object and its copies.
    [[nodiscard]] const Texts& used() const { return *used_; }
    /// The same folder with what a job keeps; nothing was read of it yet.
    [[nodiscard]] RuleFiles keeping(Texts kept) const { return {data_, std::move(kept)}; }

private:
    [[nodiscard]] Result<std::string> remember(const std::string& name, Result<std::string> text) const;

    std::filesystem::path data_;
    Texts kept_;
    std::shared_ptr<Texts> used_;
};

}  // namespace clendo
