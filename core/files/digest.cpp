#include "files/digest.h"

#include <sodium.h>

#include <array>

namespace clendo {

static_assert(crypto_hash_sha256_BYTES == std::tuple_size_v<decltype(Digest::bytes)>);

std::string Digest::hex() const
{
    std::string out(2 * bytes.size() + 1, '\0');
    sodium_bin2hex(out.data(), out.size(), bytes.data(), bytes.size());
    out.pop_back();
    return out;
}

std::optional<Digest> Digest::parse(std::string_view hex)
{
    Digest out;
    if (hex.size() != 2 * out.bytes.size()) return std::nullopt;
    static constexpr auto values = [] {  // of each character; those that are no digit have a bit that no digit has
        std::array<std::uint8_t, 256> table{};
        table.fill(0x80);
        for (std::uint8_t v = 0; v < 16; ++v) table[static_cast<unsigned char>("0123456789abcdef"[v])] = v;
        return table;
    }();
    std::uint8_t wrong = 0;
    for (std::size_t i = 0; i < out.bytes.size(); ++i) {
        const std::uint8_t high = values[static_cast<unsigned char>(hex[2 * i])], low = values[static_cast<unsigned char>(hex[2 * i + 1])];
        wrong = static_cast<std::uint8_t>(wrong | high | low);
        out.bytes[i] = static_cast<std::uint8_t>((high << 4) | (low & 0xF));
    }
    return wrong & 0x80 ? std::nullopt : std::optional(out);
}

Digest digestOf(std::string_view bytes)
{
    Digest out;
    crypto_hash_sha256(out.bytes.data(), reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size());
    return out;
}

}  // namespace clendo
