#include "reel/delivery_text.h"

#include <fmt/format.h>

#include <cctype>
#include <cmath>
#include <vector>

#include "files/typed_number.h"

namespace clendo::reel {
namespace {

bool digit(char c) { return std::isdigit(static_cast<unsigned char>(c)) != 0; }

/// All numbers of a text; a point or the first comma between two digits is a decimal sign.
std::vector<double> numbersIn(const std::string& text)
{
    std::vector<double> out;
    for (std::size_t i = 0; i < text.size();) {
        if (!digit(text[i])) {
            ++i;
            continue;
        }
        const std::size_t from = i;
        bool sign = false;
        for (; i < text.size(); ++i) {
            if (digit(text[i])) continue;
            const bool decimal = (text[i] == '.' || text[i] == ',') && !sign && i + 1 < text.size() && digit(text[i + 1]);
            if (!decimal) break;
            sign = true;
        }
        if (const auto number = typedNumber(text.substr(from, i - from), Comma::Decimal)) out.push_back(number->value);
    }
    return out;
}

}  // namespace

Result<std::map<int, DecibelPerKilometre>> attenuationsFromText(const std::string& text)
{
    const auto unclear = failure(Error::Code::PlanInvalid, "Write attenuations as pairs of dB/km and nm: 0.36 at 1310, 0.22 at 1550.");
    const std::vector<double> numbers = numbersIn(text);
    if (numbers.size() % 2 != 0 || (numbers.empty() && !trimmedText(text).empty())) return unclear;
    constexpr double shortest = 600, longest = 1700, most = 20;  // nm, dB/km
    std::map<int, DecibelPerKilometre> out;
    for (std::size_t i = 0; i < numbers.size(); i += 2) {
        const auto [attenuation, nm] = std::minmax(numbers[i], numbers[i + 1]);
        if (nm < shortest || nm > longest || attenuation <= 0 || attenuation > most) return unclear;
        out[static_cast<int>(std::lround(nm))] = DecibelPerKilometre(attenuation);
    }
    return out;
}

std::string textOf(const std::map<int, DecibelPerKilometre>& attenuations)
{
    std::string out;
    for (const auto& [nm, value] : attenuations) out += fmt::format("{}{} at {}", out.empty() ? "" : ", ", value.value(), nm);
    return out;
}

}  // namespace clendo::reel
