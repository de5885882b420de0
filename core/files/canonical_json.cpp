#include "files/canonical_json.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <nlohmann/json.hpp>
#include <vector>

namespace clendo {
namespace {

using nlohmann::json;

/// UTF-16 order is that of the bytes of UTF-8, but for characters beyond U+FFFF: their surrogates come before U+E000 (lead byte 0xEE).
bool beforeInUtf16(std::string_view a, std::string_view b)
{
    const auto [x, y] = std::mismatch(a.begin(), a.end(), b.begin(), b.end());
    if (x == a.end() || y == b.end()) return x == a.end() && y != b.end();
    const auto left = static_cast<unsigned char>(*x), right = static_cast<unsigned char>(*y);
    const bool leftFar = left >= 0xF0, rightFar = right >= 0xF0;
    if (leftFar != rightFar && left >= 0xEE && right >= 0xEE) return leftFar;
    return left < right;
}

/// ECMA-262, Number::toString: the shortest digits that read back the same; exponents below -6 and from 21 on.
std::string numberText(double value)
{
    if (!std::isfinite(value)) return "null";
    if (value == 0) return "0";
    char digits[40];
    const auto end = std::to_chars(digits, digits + sizeof digits, std::abs(value), std::chars_format::scientific).ptr;
    const std::string_view text(digits, static_cast<std::size_t>(end - digits));
    const auto e = text.find('e');
    std::string mantissa(text.substr(0, e));
    std::erase(mantissa, '.');
    int exponent = 0;
    const std::string_view after = text.substr(e + (text[e + 1] == '+' ? 2 : 1));
    std::from_chars(after.data(), after.data() + after.size(), exponent);
    const int count = static_cast<int>(mantissa.size()), point = exponent + 1;  // digits before the decimal point
    std::string out = value < 0 ? "-" : "";
    if (point >= count && point <= 21) return out + mantissa + std::string(static_cast<std::size_t>(point - count), '0');
    if (point > 0 && point <= 21) return out + mantissa.insert(static_cast<std::size_t>(point), ".");
    if (point > -6 && point <= 0) return out + "0." + std::string(static_cast<std::size_t>(-point), '0') + mantissa;
    if (count > 1) mantissa.insert(1, ".");
    return out + fmt::format("{}e{}{}", mantissa, exponent < 0 ? "-" : "+", std::abs(exponent));
}

void write(const json& value, std::string& out)
{
    switch (value.type()) {
        case json::value_t::object: {
            std::vector<json::const_iterator> members;
            for (auto it = value.begin(); it != value.end(); ++it) members.push_back(it);
            std::sort(members.begin(), members.end(), [](const auto& a, const auto& b) { return beforeInUtf16(a.key(), b.key()); });
            out += '{';
            for (const auto& member : members) {
                if (out.back() != '{') out += ',';
                out += canonicalText(member.key());
                out += ':';
                write(member.value(), out);
            }
            out += '}';
            break;
        }
        case json::value_t::array: {
            out += '[';
            bool first = true;
            for (const auto& item : value) {
                if (!std::exchange(first, false)) out += ',';
                write(item, out);
            }
            out += ']';
            break;
        }
        case json::value_t::string: out += canonicalText(value.get_ref<const std::string&>()); break;
        case json::value_t::number_float: out += numberText(value.get<double>()); break;
        case json::value_t::discarded:
        case json::value_t::binary: out += "null"; break;
        default: out += value.dump();
    }
}

}  // namespace

std::string canonicalText(std::string_view text)
{
    const auto plain = [](char c) { return c >= ' ' && c <= '~' && c != '"' && c != '\\'; };
    if (std::all_of(text.begin(), text.end(), plain)) {
        std::string out;
        out.reserve(text.size() + 2);
        return ((out += '"') += text) += '"';
    }
    return json(text).dump(-1, ' ', false, json::error_handler_t::replace);
}

std::string canonicalJson(const json& value)
{
    std::string out;
    write(value, out);
    return out;
}

}  // namespace clendo
