#include "seal/signing_key.h"

#include <fmt/format.h>
#include <sodium.h>

#include <nlohmann/json.hpp>
#include <stdexcept>
#include <utility>

#include "files/canonical_json.h"
#include "files/hex.h"
#include "files/json_reading.h"

namespace clendo::seal {
namespace {

using nlohmann::json;

// What opening a key costs somebody who guesses passphrases: about a tenth of a second each (libsodium, "interactive", one pass more).
constexpr unsigned long long passes = crypto_pwhash_OPSLIMIT_INTERACTIVE + 1;
constexpr std::size_t memory = crypto_pwhash_MEMLIMIT_INTERACTIVE;
// What a key file may ask for before it is taken for an attack on this machine.
constexpr double mostPasses = 16, mostMemory = 512.0 * 1024 * 1024;
constexpr std::size_t longestFile = 16 * 1024, longestHolder = 200;

void start()
{
    if (sodium_init() < 0) throw std::runtime_error("libsodium cannot start");
}

std::uint8_t* lockedMemory()
{
    auto* out = static_cast<std::uint8_t*>(sodium_malloc(crypto_sign_SECRETKEYBYTES));
    if (!out) throw std::bad_alloc();
    return out;
}

const unsigned char* bytesOf(std::string_view text) { return reinterpret_cast<const unsigned char*>(text.data()); }

/// The key that a passphrase makes; wiped when it goes.
struct Stretched {
    std::array<unsigned char, crypto_secretbox_KEYBYTES> bytes{};
    Stretched() = default;
    Stretched(const Stretched&) = delete;
    Stretched& operator=(const Stretched&) = delete;
    ~Stretched() { sodium_memzero(bytes.data(), bytes.size()); }

    [[nodiscard]] bool from(std::string_view passphrase, std::string_view salt, unsigned long long operations, std::size_t room)
    {
        return crypto_pwhash(bytes.data(), bytes.size(), passphrase.data(), passphrase.size(), bytesOf(salt), operations, room,
                             crypto_pwhash_ALG_ARGON2ID13) == 0;
    }
};

tl::unexpected<Error> noKey(const std::string& why)
{
    return failure(Error::Code::KeyInvalid, fmt::format("This is no key of Clendo's: {}. Choose another file, or make a new key.", why));
}

tl::unexpected<Error> noMemory()
{
    return failure(Error::Code::OutOfMemory, "There is too little memory to open or seal a key. Close other programs.");
}

}  // namespace

std::string PublicKey::hex() const { return toHex(bytes); }

std::string PublicKey::spoken() const
{
    const std::string all = hex();
    return fmt::format("{} {} {} {}", all.substr(0, 4), all.substr(4, 4), all.substr(8, 4), all.substr(12, 4));
}

std::optional<PublicKey> PublicKey::parse(std::string_view hex)
{
    PublicKey out;
    if (!fromHex(hex, out.bytes)) return std::nullopt;
    return out;
}

bool PublicKey::holds(std::string_view text, const SignatureBytes& signature) const
{
    start();
    return crypto_sign_verify_detached(signature.data(), bytesOf(text), text.size(), bytes.data()) == 0;
}

SigningKey::SigningKey(SigningKey&& other) noexcept
    : holder_(std::move(other.holder_)), public_(other.public_), secret_(std::exchange(other.secret_, nullptr))
{
}

SigningKey& SigningKey::operator=(SigningKey&& other) noexcept
{
    std::swap(holder_, other.holder_);
    std::swap(public_, other.public_);
    std::swap(secret_, other.secret_);
    return *this;
}

SigningKey::~SigningKey() { sodium_free(secret_); }

SigningKey SigningKey::make(std::string holder)
{
    start();
    SigningKey out;
    out.holder_ = std::move(holder);
    out.secret_ = lockedMemory();
    crypto_sign_keypair(out.public_.bytes.data(), out.secret_);
    return out;
}

SignatureBytes SigningKey::sign(std::string_view text) const
{
    SignatureBytes out{};
    crypto_sign_detached(out.data(), nullptr, bytesOf(text), text.size(), secret_);
    return out;
}

Result<std::string> SigningKey::sealedFile(std::string_view passphrase, std::int64_t now) const
{
    std::array<std::uint8_t, crypto_pwhash_SALTBYTES> salt{};
    std::array<std::uint8_t, crypto_secretbox_NONCEBYTES> nonce{};
    randombytes_buf(salt.data(), salt.size());
    randombytes_buf(nonce.data(), nonce.size());
    Stretched with;
    const std::string_view saltText(reinterpret_cast<const char*>(salt.data()), salt.size());
    if (!with.from(passphrase, saltText, passes, memory)) return noMemory();
    std::array<std::uint8_t, crypto_secretbox_MACBYTES + crypto_sign_SECRETKEYBYTES> box{};
    crypto_secretbox_easy(box.data(), secret_, crypto_sign_SECRETKEYBYTES, nonce.data(), with.bytes.data());
    return canonicalJson({{"format", "clendo-key"},
                          {"format_version", 1},
                          {"holder", holder_},
                          {"public", public_.hex()},
                          {"made_at", now},
                          {"sealed",
                           {{"how", "argon2id13, xsalsa20-poly1305"},
                            {"passes", passes},
                            {"memory_bytes", memory},
                            {"salt", toHex(salt)},
                            {"nonce", toHex(nonce)},
                            {"secret", toHex(box)}}}}) +
           "\n";
}

Result<KeyFile> readKeyFile(std::string_view text)
{
    if (text.size() > longestFile) return noKey("it is too large");
    const json value = json::parse(text, nullptr, false);
    if (!value.is_object()) return noKey("it is no JSON");
    JsonReading in(value, "");
    if (in.textOr("format", "") != "clendo-key") return noKey("its format is another one");
    if (in.number("format_version", 0, 1e6) > 1) return noKey("it was made by a newer version, which has to be used");
    KeyFile out;
    out.holder = in.text("holder");
    const auto key = PublicKey::parse(in.text("public"));
    if (!key) in.complain("“public” must be 64 hexadecimal digits");
    out.publicKey = key.value_or(PublicKey{});
    out.madeAt = static_cast<std::int64_t>(in.number("made_at", 0, 1e11));
    if (out.holder.size() > longestHolder) in.complain("“holder” is too long");
    if (in.problem()) return noKey(*in.problem());
    out.text = text;
    return out;
}

Result<SigningKey> SigningKey::open(const KeyFile& file, std::string_view passphrase)
{
    start();
    const json value = json::parse(file.text, nullptr, false);
    const json* sealed = memberOf(value, "sealed");
    if (!sealed) return noKey("its secret half is missing");
    JsonReading in(*sealed, "sealed");
    std::array<std::uint8_t, crypto_pwhash_SALTBYTES> salt{};
    std::array<std::uint8_t, crypto_secretbox_NONCEBYTES> nonce{};
    std::array<std::uint8_t, crypto_secretbox_MACBYTES + crypto_sign_SECRETKEYBYTES> box{};
    if (!fromHex(in.text("salt"), salt)) in.complain("“salt” is damaged");
    if (!fromHex(in.text("nonce"), nonce)) in.complain("“nonce” is damaged");
    if (!fromHex(in.text("secret"), box)) in.complain("“secret” is damaged");
    const auto operations = static_cast<unsigned long long>(in.number("passes", 1, mostPasses));
    const auto room = static_cast<std::size_t>(in.number("memory_bytes", double(crypto_pwhash_MEMLIMIT_MIN), mostMemory));
    if (in.problem()) return noKey(*in.problem());
    Stretched with;
    if (!with.from(passphrase, {reinterpret_cast<const char*>(salt.data()), salt.size()}, operations, room)) return noMemory();
    SigningKey out;
    out.secret_ = lockedMemory();
    if (crypto_secretbox_open_easy(out.secret_, box.data(), box.size(), nonce.data(), with.bytes.data()) != 0)
        return failure(Error::Code::PassphraseWrong, fmt::format("That passphrase does not open the key of {}. Type it again.", file.holder));
    // the secret half holds the public one: a file that names another key would sign as somebody else
    std::copy(out.secret_ + crypto_sign_SEEDBYTES, out.secret_ + crypto_sign_SECRETKEYBYTES, out.public_.bytes.begin());
    if (out.public_ != file.publicKey) return noKey("its two halves are of different keys");
    out.holder_ = file.holder;
    return out;
}

}  // namespace clendo::seal
