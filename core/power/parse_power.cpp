#include <fmt/format.h>

#include <cmath>

#include "files/typed_number.h"
#include "power/loss.h"

namespace clendo {
Result<Decibel> parseRelative(std::string_view typed, bool lossIsNegative)
{
    constexpr double most = 80;  // no meter spans more
    const auto read = typedNumber(typed);
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
    const auto read = typedNumber(typed);
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
