#pragma once
#include <array>
#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>

namespace clendo {

/// Two digits a byte, lower case.
template <std::size_t N>
std::string toHex(const std::array<std::uint8_t, N>& bytes)
{
    constexpr std::string_view digits = "0123456789abcdef";
    std::string out(2 * N, '\0');
    for (std::size_t i = 0; i < N; ++i) {
        out[2 * i] = digits[bytes[i] >> 4];
        out[2 * i + 1] = digits[bytes[i] & 15];
    }
    return out;
}

/// False where `hex` is not exactly so many lower-case digits: one value has one text. `bytes` is anything then.
template <std::size_t N>
bool fromHex(std::string_view hex, std::array<std::uint8_t, N>& bytes)
{
    static constexpr auto values = [] {  // of each character; those that are no digit have a bit that no digit has
        std::array<std::uint8_t, 256> table{};
        table.fill(0x80);
        for (std::uint8_t v = 0; v < 16; ++v) table[static_cast<unsigned char>("0123456789abcdef"[v])] = v;
        return table;
    }();
    if (hex.size() != 2 * N) return false;
    std::uint8_t wrong = 0;
    for (std::size_t i = 0; i < N; ++i) {
        const std::uint8_t high = values[static_cast<unsigned char>(hex[2 * i])], low = values[static_cast<unsigned char>(hex[2 * i + 1])];
        wrong = static_cast<std::uint8_t>(wrong | high | low);
        bytes[i] = static_cast<std::uint8_t>((high << 4) | (low & 0xF));
    }
    return (wrong & 0x80) == 0;
}

}  // namespace clendo
