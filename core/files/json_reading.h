#pragma once
#include <fmt/format.h>

#include <cmath>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <string_view>

#include "files/flat_json.h"
#include "result/result.h"

namespace clendo {

inline const nlohmann::json* memberOf(const nlohmann::json& value, std::string_view key)
{
    const auto it = value.is_object() ? value.find(key) : value.end();
    return it == value.end() ? nullptr : &*it;
}
inline std::optional<FlatJson::Value> memberOf(FlatJson::Value value, std::string_view key) { return value.find(key); }

/// Reads typed values out of hostile JSON: every `need...` that does not find what it wants remembers the first such
/// place and gives a default, so that a parser reads straight through and asks `error()` once at the end.
template <class Json>
class BasicJsonReading {
public:
    using Held = std::conditional_t<std::is_same_v<Json, FlatJson::Value>, Json, const Json&>;
    BasicJsonReading(Held value, std::string where) : value_(value), where_(std::move(where)) {}

    [[nodiscard]] const std::optional<std::string>& problem() const { return problem_; }
    void complain(const std::string& what)
    {
        if (!problem_) problem_ = where_.empty() ? what : fmt::format("{}: {}", where_, what);
    }

    [[nodiscard]] std::string text(std::string_view key)
    {
        const auto v = find(key);
        if (v && v->is_string()) return v->template get<std::string>();
        complain(fmt::format("“{}” must be a text", key));
        return {};
    }
    /// A finite number within [low, high].
    [[nodiscard]] double number(std::string_view key, double low, double high)
    {
        const auto v = find(key);
        if (v && v->is_number()) {
            const double x = v->template get<double>();
            if (std::isfinite(x) && x >= low && x <= high) return x;
        }
        complain(fmt::format("“{}” must be a number from {} to {}", key, low, high));
        return low;
    }
    /// As number(), nothing where the key is missing or null.
    [[nodiscard]] std::optional<double> numberOrNothing(std::string_view key, double low, double high)
    {
        const auto v = find(key);
        if (!v || v->is_null()) return std::nullopt;
        return number(key, low, high);
    }
    [[nodiscard]] std::string textOr(std::string_view key, std::string fallback)
    {
        const auto v = find(key);
        if (!v || v->is_null()) return fallback;
        return text(key);
    }
    [[nodiscard]] bool flagOr(std::string_view key, bool fallback)
    {
        const auto v = find(key);
        if (!v || v->is_null()) return fallback;
        if (v->is_boolean()) return v->template get<bool>();
        complain(fmt::format("“{}” must be true or false", key));
        return fallback;
    }
    [[nodiscard]] Held list(std::string_view key)
    {
        static const Json nothing{};  // null, over which a loop does nothing
        const auto v = find(key);
        if (v && v->is_array()) return *v;
        complain(fmt::format("“{}” must be a list", key));
        return nothing;
    }
    [[nodiscard]] auto find(std::string_view key) const { return memberOf(value_, key); }

private:
    Held value_;
    std::string where_;
    std::optional<std::string> problem_;
};
using JsonReading = BasicJsonReading<nlohmann::json>;
using FlatReading = BasicJsonReading<FlatJson::Value>;

}  // namespace clendo
