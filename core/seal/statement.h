#pragma once
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "files/digest.h"
#include "seal/signing_key.h"

namespace clendo::seal {

/// A file that belongs to a certificate.
struct SealedFile {
    std::string path;  ///< within the folder, with "/": "pictures/VP-04_7-A-port-1.png"
    std::size_t bytes = 0;
    Digest sha256;
};

/// What a certificate's signature is given over: every file of its folder, and what they rest on.
struct Statement {
    std::string subject;  ///< "VP-04/7"
    std::string job;
    std::int64_t writtenAt = 0;        ///< by the writer's clock, seconds since 1970-01-01 UTC
    std::string body;                  ///< which of the files holds the record as JSON
    std::vector<SealedFile> files;     ///< the signature itself is none of them
    std::optional<Digest> replaces{};  ///< the SHA-256 of the record of the certificate in whose place this one comes
    struct Head {
        std::string device;
        std::int64_t sequence = 0;
        Digest entry;
    };
    std::vector<Head> heads{};  ///< the last entry of each device of the job's journal

    [[nodiscard]] const SealedFile* file(std::string_view path) const;
    /// SHA-256 of the record; none where it is none of the files.
    [[nodiscard]] Digest record() const;
};

/// A statement with whose key it was signed, as it lies in a folder.
struct Seal {
    struct Signer {
        std::string holder;  ///< as the key says; the key alone proves nothing of a name
        PublicKey key;
        bool good = false;  ///< the signature is of this key, and over this statement
    };
    Statement statement;
    std::optional<Signer> signer;  ///< nothing: it was written without a key
};

inline constexpr std::string_view sealName = "signature.json";

/// The text of signature.json: canonical JSON (RFC 8785), one line. The signature (Ed25519) is over the canonical JSON of its member "statement".
std::string sealText(const Statement& statement, const SigningKey* key);

/// Reads one of anybody's making. CertificateInvalid where it is none, cannot be, or is not exactly as it was written.
Result<Seal> readSeal(std::string_view text);

/// Whether a path stays in its folder and is one that a certificate can have: no "..", no root, no odd characters, at most two steps.
bool plainPath(std::string_view path);

}  // namespace clendo::seal
