#pragma once
#include <algorithm>
#include <cstddef>
#include <optional>
#include <vector>

namespace clendo::face {

/// Where a profile falls to `level`, going from its point `i` in steps of `way` (1 or -1); between its points. Nothing where it does not.
inline std::optional<double> fallsTo(const std::vector<double>& profile, std::size_t i, int way, double level)
{
    for (auto k = static_cast<long>(i); k + way >= 0 && k + way < static_cast<long>(profile.size()); k += way) {
        const double here = profile[static_cast<std::size_t>(k)], next = profile[static_cast<std::size_t>(k + way)];
        if (next < level) return double(k) + way * (here - level) / std::max(1e-12, here - next);
    }
    return std::nullopt;
}

}  // namespace clendo::face
