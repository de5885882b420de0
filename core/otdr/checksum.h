#pragma once
#include <cstdint>
#include <string_view>

namespace clendo::otdr {

/// One of the CRC-16 variants (polynomial 0x1021) that are found in SR-4731 files.
struct ChecksumVariant {
    std::uint16_t start;
    bool reflected;
    std::uint16_t finalXor;
};
constexpr ChecksumVariant writtenChecksum{0xFFFF, false, 0};

std::uint16_t checksum(std::string_view bytes, ChecksumVariant variant);

/// Whether `value` is any known checksum of `beforeValue` or `beforeBlock`, straight or with its bytes swapped.
bool checksumMatches(std::uint16_t value, std::string_view beforeValue, std::string_view beforeBlock);

}  // namespace clendo::otdr
