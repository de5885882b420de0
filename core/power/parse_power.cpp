#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>

#include "power/loss.h"

namespace clendo {
namespace {

std::string replaced(std::string text, std::string_view what, std::string_view with)
{
    for (std::size_t at = text.find(what); at != std::string::npos; at = text.find(what, at + with.size())) text.replace(at, what.size(), with);
    return text;
}

std::string lower(std::string_view text)
{
    std::string out(text);
    std::transform(out.begin(), out.end(), out.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return out;
}

struct Figure {
    double value;
    std::string unit;  ///< in small letters
};

/// A number as people type it, and what stands behind it.
std::optional<Figure> figure(std::string_view typed)
{
    std::string text(typed.substr(0, 64));
    for (const std::string_view minus : {"−", "–", "‒"}) text = replaced(text, minus, "-");
    text = replaced(replaced(replaced(text, "µ", "u"), "μ", "u"), ",", ".");
    std::erase_if(text, [](unsigned char c) { return std::isspace(c) != 0; });
    if (text.starts_with('+')) text.erase(0, 1);
    double value = 0;
    const auto [rest, ec] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (ec != std::errc{} || !std::isfinite(value)) return std::nullopt;
    return Figure{value, lower(std::string_view(rest, static_cast<std::size_t>(text.data() + text.size() - rest)))};
}

}  // namespace

Result<Decibel> parseRelative(std::string_view typed, bool lossIsNegative)
{
    constexpr double most = 80;  // no meter spans more
    const auto read = figure(typed);
    if (!read || (!read->unit.empty() && read->unit != "db"))
        return failure(
            Error::Code::ReadingUnclear,
            fmt::format("“{}” is not what a meter shows that was set to zero. Type the dB that it shows, with its sign.", typed.substr(0, 40)));
    const double loss = lossIsNegative ? -read->value : read->value;
    if (std::abs(loss) > most)
        return failure(Error::Code::ReadingImpossible,
                       fmt::format("{:.2f} dB is more than a meter spans. Check the sign and the decimal point.", read->value));
    return Decibel(loss);
}

Result<DecibelMilliwatt> parsePower(std::string_view typed)
{
    constexpr DecibelMilliwatt lowest{-90}, highest{30};
    const auto read = figure(typed);
    if (!read)
        return failure(Error::Code::ReadingUnclear,
                       fmt::format("“{}” is not a reading. Type the level that the meter shows, for example -8.63 dBm.", typed.substr(0, 40)));
    const auto& [value, unit] = *read;
    if (unit == "db")
        return failure(Error::Code::ReadingUnclear,
                       "dB is a ratio, not a level. Set the meter to dBm and type that, or say first that it was set to zero on the reference.");
    double dbm = value;
    if (unit == "mw" || unit == "uw" || unit == "nw") {
        if (value <= 0) return failure(Error::Code::ReadingImpossible, "A power of zero or less is no light. Check the fibre and the source.");
        dbm = 10 * std::log10(value) - (unit == "mw" ? 0 : unit == "uw" ? 30 : 60);
    } else if (!unit.empty() && unit != "dbm") {
        return failure(Error::Code::ReadingUnclear, fmt::format("“{}” is not a unit of power. Use dBm, mW, uW or nW.", unit));
    }
    if (DecibelMilliwatt(dbm) < lowest || DecibelMilliwatt(dbm) > highest)
        return failure(Error::Code::ReadingImpossible,
                       fmt::format("{:.2f} dBm is outside what a power meter can show (-90 to +30 dBm). Check the sign and the decimal point.", dbm));
    return DecibelMilliwatt(dbm);
}

}  // namespace clendo
