#include "files/typed_number.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>

namespace clendo {
namespace {

void replaceAll(std::string& text, std::string_view what, std::string_view with)
{
    for (auto at = text.find(what); at != std::string::npos; at = text.find(what, at + with.size())) text.replace(at, what.size(), with);
}

}  // namespace

std::string lowerCase(std::string_view text)
{
    std::string out(text);
    std::transform(out.begin(), out.end(), out.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return out;
}

std::string trimmedText(std::string_view text)
{
    std::string out(text);
    for (const std::string_view space : {"\xC2\xA0", "\xE2\x80\xAF"}) replaceAll(out, space, " ");  // no-break spaces
    const auto blank = [](char c) { return std::isspace(static_cast<unsigned char>(c)) != 0 || c == '"'; };
    while (!out.empty() && blank(out.back())) out.pop_back();
    out.erase(out.begin(), std::find_if_not(out.begin(), out.end(), blank));
    return out;
}

std::optional<TypedNumber> typedNumber(std::string_view typed, Comma comma)
{
    constexpr std::size_t longest = 64;
    std::string text = trimmedText(typed.substr(0, longest));
    for (const std::string_view minus : {"\xE2\x88\x92", "\xE2\x80\x93", "\xE2\x80\x92"})
        replaceAll(text, minus, "-");  // minus sign, en dash, figure dash
    for (const std::string_view micro : {"\xC2\xB5", "\xCE\xBC"}) replaceAll(text, micro, "u");
    const bool only = std::count(text.begin(), text.end(), ',') == 1 && text.find('.') == std::string::npos;
    if (comma == Comma::Decimal || (comma == Comma::Either && only)) std::replace(text.begin(), text.end(), ',', '.');
    if (text.starts_with('+')) text.erase(0, 1);
    while (text.size() > 1 && text[0] == '-' && text[1] == ' ') text.erase(1, 1);
    double value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (code != std::errc() || !std::isfinite(value)) return std::nullopt;
    return TypedNumber{value, lowerCase(trimmedText(std::string_view(end, static_cast<std::size_t>(text.data() + text.size() - end))))};
}

}  // namespace clendo
