#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "result/result.h"
#include "units/units.h"

namespace clendo {

/// A family of connectors (data/plant/connectors.json).
struct ConnectorFamily {
    std::string name;                   ///< "LC"
    std::optional<Micrometre> ferrule;  ///< diameter; nothing: rectangular
    std::vector<int> fibres;            ///< that one ferrule can hold
    bool keyed = true, hardened = false;

    [[nodiscard]] bool holds(int count) const;
};

Result<std::vector<ConnectorFamily>> parseConnectors(std::string_view json);
/// The families that this installation knows.
Result<std::vector<ConnectorFamily>> loadConnectors(const std::filesystem::path& dataFolder);
const ConnectorFamily* familyNamed(const std::vector<ConnectorFamily>& families, std::string_view name);

}  // namespace clendo
