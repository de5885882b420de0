#include "files/digest.h"

#include <sodium.h>

#include <array>

#include "files/hex.h"

namespace clendo {

static_assert(crypto_hash_sha256_BYTES == std::tuple_size_v<decltype(Digest::bytes)>);

std::string Digest::hex() const { return toHex(bytes); }

std::optional<Digest> Digest::parse(std::string_view hex)
{
    Digest out;
    return fromHex(hex, out.bytes) ? std::optional(out) : std::nullopt;
}

Digest digestOf(std::string_view bytes)
{
    Digest out;
    crypto_hash_sha256(out.bytes.data(), reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size());
    return out;
}

}  // namespace clendo
