#pragma once
#include <fmt/format.h>

#include <nlohmann/json.hpp>
#include <string>

namespace clendo {

/// A number of a certificate as it is printed; a dash where there is none.
inline std::string decimals(const nlohmann::json& value, int digits)
{
    return value.is_number() ? fmt::format("{:.{}f}", value.get<double>(), digits) : std::string("–");
}

/// Any value: texts as they are, numbers that are not whole with two decimals, a dash for nothing.
inline std::string printed(const nlohmann::json& value)
{
    if (value.is_string()) return value.get<std::string>();
    if (value.is_number_float()) return decimals(value, 2);
    return value.is_number() ? value.dump() : std::string("–");
}

/// What a loss has to spare, of a certificate's result; a dash where the reading is not valid: a figure would say that there is one.
inline std::string margin(const nlohmann::json& result)
{
    return result["verdict"] == "not valid" ? std::string("–") : decimals(result["margin_db"], 2);
}

/// What is said of rules that nobody has compared with a licensed copy of the standard; empty where somebody has.
inline std::string unchecked(const nlohmann::json& rules)
{
    return rules.contains("checked") && rules["checked"] == nlohmann::json(true) ? std::string()
                                                                                 : std::string(" (not yet compared with a licensed copy)");
}

}  // namespace clendo
