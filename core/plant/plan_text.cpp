#include "plant/plan_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

namespace clendo {
namespace {

constexpr std::string_view blanks = " \t\r\n";

/// The number at the start of the text and what stands behind it.
std::optional<std::pair<double, std::string_view>> leadingNumber(std::string_view text)
{
    const auto end = std::min(text.find_first_not_of("0123456789.,"), text.size());
    std::string digits(text.substr(0, end));
    std::replace(digits.begin(), digits.end(), ',', '.');
    double value = 0;
    const auto parsed = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (parsed.ec != std::errc{} || parsed.ptr != digits.data() + digits.size() || !std::isfinite(value)) return std::nullopt;
    return std::pair(value, trimmed(text.substr(end)));
}

bool startsWithWord(std::string_view text, std::string_view word)
{
    if (text.size() < word.size()) return false;
    for (std::size_t i = 0; i < word.size(); ++i)
        if ((text[i] | 0x20) != word[i]) return false;
    return text.size() == word.size() || blanks.find(text[word.size()]) != std::string_view::npos;
}

}  // namespace

std::string_view trimmed(std::string_view text)
{
    const auto first = text.find_first_not_of(blanks);
    if (first == std::string_view::npos) return {};
    return text.substr(first, text.find_last_not_of(blanks) - first + 1);
}

std::optional<Metre> parseLength(std::string_view text)
{
    const auto number = leadingNumber(trimmed(text));
    if (!number) return std::nullopt;
    if (number->second.empty() || startsWithWord(number->second, "m")) {
        if (trimmed(number->second).size() > 1) return std::nullopt;
        return Metre(number->first);
    }
    if (startsWithWord(number->second, "km") && number->second.size() == 2) return Metre(number->first * 1000);
    return std::nullopt;
}

namespace {

/// Distances from end A, each with what stands behind it; an Error names the part that is no distance, after `whatItIsNot`.
Result<std::vector<Splice>> parsePlaces(std::string_view text, std::string_view whatItIsNot)
{
    std::vector<Splice> out;
    while (!text.empty()) {
        const auto end = std::min(text.find(';'), text.size());
        const std::string_view part = trimmed(text.substr(0, end));
        text = end < text.size() ? text.substr(end + 1) : std::string_view{};
        if (part.empty()) continue;
        const auto number = leadingNumber(part);
        if (!number) return failure(Error::Code::PlanInvalid, fmt::format("“{}” is {}", part, whatItIsNot));
        double factor = 1;
        std::string_view label = number->second;
        if (startsWithWord(label, "km"))
            factor = 1000, label = trimmed(label.substr(2));
        else if (startsWithWord(label, "m"))
            label = trimmed(label.substr(1));
        out.push_back({std::string(label), Metre(number->first * factor)});
    }
    return out;
}

}  // namespace

Result<std::vector<Splice>> parseSplices(std::string_view text)
{
    auto out = parsePlaces(text, "not a splice. Write the distance from end A, then a name; a semicolon between two: 1180 manhole 3; 1905 sea wall.");
    if (out)
        for (std::size_t n = 0; n < out->size(); ++n)
            if ((*out)[n].name.empty()) (*out)[n].name = std::to_string(n + 1);
    return out;
}

Result<std::vector<InnerPanel>> parsePanels(std::string_view text)
{
    constexpr std::string_view howTo =
        "no panel in between. Write the distance from end A, the panel's name, and its first port where that is not 1; a semicolon between two: "
        "620 IDF-2 port 25; 624 IDF-3.";
    const auto places = parsePlaces(text, howTo);
    if (!places) return tl::unexpected(places.error());
    std::vector<InnerPanel> out;
    for (const auto& place : *places) {
        InnerPanel panel{place.name, place.at};
        constexpr std::string_view port = " port ";
        if (const auto at = place.name.rfind(port); at != std::string::npos)
            if (const auto first = parsePorts(std::string_view(place.name).substr(at + port.size()))) {
                panel.name = trimmed(std::string_view(place.name).substr(0, at));
                panel.firstPort = first->first;
            }
        if (panel.name.empty()) return failure(Error::Code::PlanInvalid, fmt::format("“{:g}” is {}", place.at.value(), howTo));
        out.push_back(std::move(panel));
    }
    return out;
}

std::optional<std::pair<int, int>> parsePorts(std::string_view text)
{
    text = trimmed(text);
    const auto whole = [](std::string_view part) -> std::optional<int> {
        part = trimmed(part);
        int n = 0;
        const auto parsed = std::from_chars(part.data(), part.data() + part.size(), n);
        return parsed.ec == std::errc{} && parsed.ptr == part.data() + part.size() && n > 0 ? std::optional(n) : std::nullopt;
    };
    const auto dash = text.find('-');
    const auto first = whole(text.substr(0, dash)), last = dash == std::string_view::npos ? first : whole(text.substr(dash + 1));
    if (!first || !last || *last < *first) return std::nullopt;
    return std::pair(*first, *last);
}

}  // namespace clendo
