#include "files/digest.h"

#include <sodium.h>

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
    const auto value = [](char c) { return c >= '0' && c <= '9' ? c - '0' : c >= 'a' && c <= 'f' ? c - 'a' + 10 : -1; };
    for (std::size_t i = 0; i < out.bytes.size(); ++i) {
        const int high = value(hex[2 * i]), low = value(hex[2 * i + 1]);
        if (high < 0 || low < 0) return std::nullopt;
        out.bytes[i] = static_cast<std::uint8_t>(16 * high + low);
    }
    return out;
}

Digest digestOf(std::string_view bytes)
{
    Digest out;
    crypto_hash_sha256(out.bytes.data(), reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size());
    return out;
}

}  // namespace clendo
