#pragma once
#include <filesystem>

#include "cleaning/kit_kinds.h"
#include "criteria/criteria.h"
#include "files/rule_files.h"
#include "plant/connectors.h"
#include "power/limits.h"

namespace clendo {

/// The rules that a fold needs, by the names a job uses.
class Rules {
public:
    explicit Rules(std::filesystem::path dataFolder) : data_(dataFolder), files_(std::move(dataFolder)) {}
    /// The same with what a job keeps.
    [[nodiscard]] Rules keeping(RuleFiles::Texts kept) const
    {
        Rules out(data_);
        out.files_ = files_.keeping(std::move(kept));
        return out;
    }
    [[nodiscard]] const RuleFiles& files() const { return files_; }
    [[nodiscard]] Result<Criteria> criteria(std::string_view edition) const { return loadCriteria(edition, files_); }
    [[nodiscard]] Result<LimitSet> limits(std::string_view name, std::string_view fibre) const { return loadLimits(name, fibre, files_); }
    [[nodiscard]] Result<std::vector<ConnectorFamily>> connectors() const { return loadConnectors(data_); }
    [[nodiscard]] Result<std::vector<KitKind>> kitKinds() const { return loadKitKinds(data_); }

private:
    std::filesystem::path data_;
    RuleFiles files_;
};

}  // namespace clendo
