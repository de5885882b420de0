#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "seal/signing_key.h"

namespace clendo::seal {

/// A key that somebody here has compared with its holder, as over the telephone.
struct KnownKey {
    PublicKey key;
    std::string holder;                   ///< as it is known here; what the key says of itself may differ
    std::optional<std::int64_t> until{};  ///< it is not used any longer from then on: lost, replaced; seconds since 1970-01-01 UTC
};

/// What is known here of the key with which a certificate of `at` was signed.
enum class Standing { Known, Unknown, Retired };
Standing standingOf(const std::vector<KnownKey>& known, const PublicKey& key, std::int64_t at);
const KnownKey* find(const std::vector<KnownKey>& known, const PublicKey& key);

/// Own and known keys of a user, in one folder: own ones as files of their own, sealed; those of others in a list.
class KeyRing {
public:
    /// `folder` need not exist yet.
    explicit KeyRing(std::filesystem::path folder) : folder_(std::move(folder)) {}
    /// Where this user's are: $XDG_DATA_HOME/clendo/keys, else ~/.local/share/clendo/keys.
    static KeyRing ofUser();

    /// Own keys that can be read, the newest first.
    [[nodiscard]] std::vector<KeyFile> own() const;
    /// Keeps a key file; only its owner may read it.
    [[nodiscard]] Result<void> keep(const KeyFile& key) const;
    /// Those of others, and one's own: what one signed oneself is known.
    [[nodiscard]] std::vector<KnownKey> known() const;
    /// Takes a key for known, or changes what is known of it. A list that is damaged is not written over.
    [[nodiscard]] Result<void> know(const KnownKey& key) const;
    [[nodiscard]] const std::filesystem::path& folder() const { return folder_; }

private:
    [[nodiscard]] std::vector<KnownKey> listed() const;
    [[nodiscard]] bool listIsWhole() const;
    std::filesystem::path folder_;
};

/// What is handed to others so that they know a key: "format": "clendo-public-key", one line of JSON.
std::string publicKeyText(const PublicKey& key, const std::string& holder);
/// Reads that, the file of an own key, or 64 hexadecimal digits alone.
Result<KnownKey> readPublicKey(std::string_view text);

}  // namespace clendo::seal
