#include "otdr/checksum.h"

#include <array>

namespace clendo::otdr {
namespace {

constexpr std::array<ChecksumVariant, 6> variants{
    {{0xFFFF, false, 0}, {0, false, 0}, {0xFFFF, false, 0xFFFF}, {0xFFFF, true, 0}, {0xFFFF, true, 0xFFFF}, {0, true, 0}}};

}  // namespace

std::uint16_t checksum(std::string_view bytes, ChecksumVariant variant)
{
    unsigned crc = variant.start;
    for (const char c : bytes) {
        const unsigned byte = static_cast<unsigned char>(c);
        if (variant.reflected) {
            crc ^= byte;
            for (int i = 0; i < 8; ++i) crc = (crc & 1U) ? (crc >> 1U) ^ 0x8408U : crc >> 1U;
        } else {
            crc ^= byte << 8U;
            for (int i = 0; i < 8; ++i) crc = ((crc & 0x8000U) ? (crc << 1U) ^ 0x1021U : crc << 1U) & 0xFFFFU;
        }
    }
    return static_cast<std::uint16_t>(crc ^ variant.finalXor);
}

bool checksumMatches(std::uint16_t value, std::string_view beforeValue, std::string_view beforeBlock)
{
    const auto swapped = static_cast<std::uint16_t>(value << 8U | value >> 8U);
    for (const auto& variant : variants)
        for (const auto bytes : {beforeValue, beforeBlock})
            if (const auto sum = checksum(bytes, variant); sum == value || sum == swapped) return true;
    return false;
}

}  // namespace clendo::otdr
