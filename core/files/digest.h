#pragma once
#include <array>
#include <compare>
#include <cstdint>
#include <cstring>
#include <optional>
#include <string>
#include <string_view>

namespace clendo {

/// A SHA-256: what an entry, a picture or a rule file is known by. All zero: none.
struct Digest {
    std::array<std::uint8_t, 32> bytes{};

    auto operator<=>(const Digest&) const = default;
    explicit operator bool() const { return *this != Digest{}; }
    /// 64 hexadecimal digits, lower case.
    [[nodiscard]] std::string hex() const;
    /// The first eight of them: enough to tell entries apart in a sentence.
    [[nodiscard]] std::string brief() const { return hex().substr(0, 8); }
    /// From 64 hexadecimal digits, lower case; nothing of anything else.
    static std::optional<Digest> parse(std::string_view hex);
};

/// The SHA-256 (FIPS 180-4) of some bytes.
Digest digestOf(std::string_view bytes);

struct DigestHash {
    std::size_t operator()(const Digest& d) const
    {
        std::size_t first = 0;  // any part of a digest is as good as a hash of it
        std::memcpy(&first, d.bytes.data(), sizeof first);
        return first;
    }
};

}  // namespace clendo
