#pragma once
#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

#include "result/result.h"

/// Keys and seals: whether a certificate is as its writer left it, and whose key says so (docs/certificate.md).
namespace clendo::seal {

using SignatureBytes = std::array<std::uint8_t, 64>;

/// An Ed25519 public key (RFC 8032).
struct PublicKey {
    std::array<std::uint8_t, 32> bytes{};

    auto operator<=>(const PublicKey&) const = default;
    /// 64 hexadecimal digits, lower case.
    [[nodiscard]] std::string hex() const;
    /// The first sixteen of them in fours, to be read aloud: "9f2c 11aa 03be 7c41".
    [[nodiscard]] std::string spoken() const;
    /// From 64 hexadecimal digits; nothing of anything else.
    static std::optional<PublicKey> parse(std::string_view hex);
    /// Whether `signature` is of this key and over exactly these bytes.
    [[nodiscard]] bool holds(std::string_view bytes, const SignatureBytes& signature) const;
};

/// What is known of a key without its passphrase: from the file in which it is kept.
struct KeyFile {
    std::string holder;  ///< who says to hold it: a person or a firm; nobody has checked it
    PublicKey publicKey;
    std::int64_t madeAt = 0;  ///< seconds since 1970-01-01 UTC
    std::string text;         ///< the file itself
};

/// A key that signs. Its secret half lies in memory that is not swapped out where the system allows it, and is wiped when it goes.
class SigningKey {
public:
    SigningKey(SigningKey&& other) noexcept;
    SigningKey& operator=(SigningKey&& other) noexcept;
    SigningKey(const SigningKey&) = delete;
    SigningKey& operator=(const SigningKey&) = delete;
    ~SigningKey();

    static SigningKey make(std::string holder);
    /// Opens what sealedFile() gave. PassphraseWrong where it does not fit, KeyInvalid where that is no key.
    static Result<SigningKey> open(const KeyFile& file, std::string_view passphrase);

    [[nodiscard]] const PublicKey& publicKey() const { return public_; }
    [[nodiscard]] const std::string& holder() const { return holder_; }
    [[nodiscard]] SignatureBytes sign(std::string_view bytes) const;
    /// The key as JSON ("format": "clendo-key"), its secret half sealed with a passphrase: Argon2id and XSalsa20-Poly1305 (libsodium). `now` in
    /// seconds since 1970-01-01 UTC. Out of memory: an Error.
    [[nodiscard]] Result<std::string> sealedFile(std::string_view passphrase, std::int64_t now) const;

private:
    SigningKey() = default;
    std::string holder_;
    PublicKey public_;
    std::uint8_t* secret_ = nullptr;  ///< 64 bytes
};

/// Reads a key file of anybody's making. KeyInvalid says what is wrong.
Result<KeyFile> readKeyFile(std::string_view text);

/// Letters that a person can remember are few; what is shorter than this is refused.
inline constexpr std::size_t shortestPassphrase = 8;

}  // namespace clendo::seal
