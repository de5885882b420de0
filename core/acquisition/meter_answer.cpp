// What an instrument answered, as hostile as a file.
#include <algorithm>
#include <cctype>
#include <cmath>

#include "acquisition/driver.h"
#include "files/typed_number.h"

namespace clendo {
namespace {

constexpr DecibelMilliwatt lowest{-90}, highest{30};  // what a meter can show
constexpr double infinite = 9e37;                     // SCPI-99, 7.2.1.4: 9.9E37 is infinity, 9.91E37 no number

}  // namespace

std::optional<double> readNumberAnswer(std::string_view text)
{
    const auto read = typedNumber(text);
    if (!read || std::any_of(read->unit.begin(), read->unit.end(), [](char c) { return std::isalpha(static_cast<unsigned char>(c)) == 0; }))
        return std::nullopt;
    return read->value;
}

std::optional<Nanometre> readWavelengthAnswer(std::string_view text)
{
    constexpr double shortest = 600, longest = 1700, nanometresInMetre = 1e9;
    const auto value = readNumberAnswer(text);
    constexpr std::size_t mostBehindComma = 2;  // more is another number
    if (const auto comma = text.find(','); comma != std::string_view::npos && trimmedText(text.substr(comma + 1)).size() > mostBehindComma)
        return std::nullopt;
    if (!value) return std::nullopt;
    const double nm = *value < 1e-3 ? *value * nanometresInMetre : *value;
    if (!(nm >= shortest && nm <= longest)) return std::nullopt;
    return Nanometre(std::round(nm * 10) / 10);
}

MeterAnswer readMeterAnswer(std::string_view text, const Driver& driver)
{
    using Kind = PowerSample::Kind;
    const std::string said = lowerCase(trimmedText(text));
    const auto stands = [&](const std::vector<std::string>& codes) {
        return std::any_of(codes.begin(), codes.end(), [&](const std::string& code) { return lowerCase(code) == said; });
    };
    if (stands(driver.overload)) return {Kind::Overload, {}};
    if (stands(driver.noLight)) return {Kind::NoLight, {}};
    const auto read = typedNumber(text);
    if (!read) return {};
    if (read->value >= infinite) return {Kind::Overload, {}};
    if (read->value <= -infinite) return {Kind::NoLight, {}};
    const std::string unit = read->unit.empty() ? lowerCase(driver.unit) : read->unit;
    double dbm = read->value;
    if (unit != "dbm") {
        static const std::map<std::string, double, std::less<>> inMilliwatt{{"w", 1e3}, {"mw", 1}, {"uw", 1e-3}, {"nw", 1e-6}, {"pw", 1e-9}};
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
