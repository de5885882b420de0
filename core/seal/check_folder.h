#pragma once
#include <filesystem>
#include <functional>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "seal/known_keys.h"
#include "seal/statement.h"

namespace clendo::seal {

/// Something in a certificate's folder that is not as it was written.
struct Changed {
    std::string what;  ///< "signature", "record", "file", "evidence"
    std::string id;    ///< the file's path; of evidence its SHA-256
    std::string message;
};

/// What is said of a certificate's folder.
struct FolderCheck {
    std::string subject, job;
    std::size_t entries = 0;   ///< of the journal when it was written
    std::size_t evidence = 0;  ///< pictures and traces that belong to it
    std::vector<Changed> wrong;
    std::vector<std::string> beside;  ///< files in the folder that are no part of it, in no order
    std::optional<Seal> seal;
    Standing standing = Standing::Unknown;  ///< of the key that signed
    std::string knownAs;                    ///< whose key that is, as it is known here; empty: it is not known
    /// A person's word in the record that something was done: no signature by a key.
    struct SignOff {
        std::string subject, by, at, state;  ///< state: "stands", "overtaken"
        std::string since, byEntry;          ///< empty: not known, or it stands
    };
    std::vector<SignOff> signOffs;

    /// Whether everything is there and as its writer left it, and a key says so.
    [[nodiscard]] bool ok() const { return wrong.empty(); }
    /// What that amounts to, and what not, for a reader who knows nothing of keys.
    [[nodiscard]] std::string sentence() const;
};

/// Called with how many bytes are read, of all; false: it is to stop.
using CheckProgress = std::function<bool(std::size_t read, std::size_t all)>;

/// Checks every file of a certificate's folder against its signature, and the signature against the keys that are known here. CertificateInvalid
/// where the folder holds no certificate; what is damaged is no Error but stands in `wrong`. A record without a key's signature is wrong: nobody
/// could tell whether it was changed.
Result<FolderCheck> checkFolder(const std::filesystem::path& folder, const std::vector<KnownKey>& known, const CheckProgress& progress = {});

/// Whether a folder looks like one that Clendo wrote.
bool isCertificateFolder(const std::filesystem::path& folder);

}  // namespace clendo::seal
