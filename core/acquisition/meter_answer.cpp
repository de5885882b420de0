// What an instrument answered, as hostile as a file.
#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>

#include "acquisition/driver.h"

namespace clendo {
namespace {

constexpr DecibelMilliwatt lowest{-90}, highest{30};  // what a meter can show
constexpr double infinite = 9e37;                     // SCPI-99, 7.2.1.4: 9.9E37 is infinity, 9.91E37 no number

std::string_view trimmed(std::string_view text)
{
    const auto blank = [](char c) { return std::isspace(static_cast<unsigned char>(c)) != 0 || c == '"'; };
    while (!text.empty() && blank(text.front())) text.remove_prefix(1);
    while (!text.empty() && blank(text.back())) text.remove_suffix(1);
    return text;
}

std::string lower(std::string_view text)
{
    std::string out(text);
    std::transform(out.begin(), out.end(), out.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return out;
}

/// With one kind of minus, and a point where one comma stood for it.
std::string plain(std::string_view text)
{
    std::string out(trimmed(text));
    for (const std::string_view minus : {"\xE2\x88\x92", "\xE2\x80\x93", "\xE2\x80\x92"})  // minus sign, en dash, figure dash
        for (auto at = out.find(minus); at != std::string::npos; at = out.find(minus)) out.replace(at, minus.size(), "-");
    if (std::count(out.begin(), out.end(), ',') == 1 && out.find('.') == std::string::npos) out[out.find(',')] = '.';
    return out;
}

struct Parsed {
    double value;
    std::string unit;
};

/// One number and what stands behind it.
std::optional<Parsed> parsed(std::string_view text)
{
    const std::string clean = plain(text);
    std::string_view rest = clean;
    if (rest.starts_with('+')) rest.remove_prefix(1);
    double value = 0;
    const auto [end, code] = std::from_chars(rest.data(), rest.data() + rest.size(), value);
    if (code != std::errc() || !std::isfinite(value)) return std::nullopt;
    return Parsed{value, std::string(trimmed(rest.substr(static_cast<std::size_t>(end - rest.data()))))};
}

}  // namespace

std::optional<double> readNumberAnswer(std::string_view text)
{
    const auto read = parsed(text);
    if (!read || std::any_of(read->unit.begin(), read->unit.end(), [](char c) { return std::isalpha(static_cast<unsigned char>(c)) == 0; }))
        return std::nullopt;
    return read->value;
}

std::optional<Nanometre> readWavelengthAnswer(std::string_view text)
{
    constexpr double shortest = 600, longest = 1700, nanometresInMetre = 1e9;
    const auto value = readNumberAnswer(text);
    constexpr std::size_t mostBehindComma = 2;  // more is another number
    if (const auto comma = text.find(','); comma != std::string_view::npos && trimmed(text.substr(comma + 1)).size() > mostBehindComma)
        return std::nullopt;
    if (!value) return std::nullopt;
    const double nm = *value < 1e-3 ? *value * nanometresInMetre : *value;
    if (!(nm >= shortest && nm <= longest)) return std::nullopt;
    return Nanometre(std::round(nm * 10) / 10);
}

MeterAnswer readMeterAnswer(std::string_view text, const Driver& driver)
{
    using Kind = PowerSample::Kind;
    const std::string said = lower(trimmed(text));
    const auto stands = [&](const std::vector<std::string>& codes) {
        return std::any_of(codes.begin(), codes.end(), [&](const std::string& code) { return lower(code) == said; });
    };
    if (stands(driver.overload)) return {Kind::Overload, {}};
    if (stands(driver.noLight)) return {Kind::NoLight, {}};
    const auto read = parsed(text);
    if (!read) return {};
    if (read->value >= infinite) return {Kind::Overload, {}};
    if (read->value <= -infinite) return {Kind::NoLight, {}};
    const std::string unit = lower(read->unit.empty() ? driver.unit : read->unit);
    double dbm = read->value;
    if (unit != "dbm") {
        static const std::map<std::string, double, std::less<>> inMilliwatt{{"w", 1e3},          {"mw", 1},    {"uw", 1e-3},
                                                                            {"\xC2\xB5w", 1e-3}, {"nw", 1e-6}, {"pw", 1e-9}};
        const auto factor = inMilliwatt.find(unit);
        if (factor == inMilliwatt.end()) return {};
        if (read->value <= 0) return {read->value == 0 ? Kind::NoLight : Kind::Unclear, {}};
        dbm = 10 * std::log10(read->value * factor->second);
    }
    const DecibelMilliwatt power(dbm);
    if (power < lowest || power > highest) return {};
    return {Kind::Level, power};
}

}  // namespace clendo
