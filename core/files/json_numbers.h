#pragma once
#include <cmath>
#include <nlohmann/json.hpp>
#include <optional>

namespace clendo {

/// A number with so many decimal places; null where it is none.
inline nlohmann::json jsonNumber(double value, int digits)
{
    if (!std::isfinite(value)) return nullptr;
    const double factor = std::pow(10, digits);
    return std::round(value * factor) / factor;
}

/// A quantity's value; null where it is not known.
template <class Q>
nlohmann::json jsonNumber(const std::optional<Q>& value, int digits)
{
    return value ? jsonNumber(value->value(), digits) : nlohmann::json(nullptr);
}

}  // namespace clendo
