#pragma once
#include <QString>
#include <functional>
#include <string>

class QObject;

namespace clendo {

/// Whether this desktop has a keyring (secret service) at all. Cheap; a locked one counts.
bool keyringIsThere();
/// Asks it for a key's passphrase; `then` gets it, or an empty text, in this thread, unless `context` is gone by then.
void askKeyring(const std::string& publicKey, QObject* context, std::function<void(const QString&)> then);
/// Lets it keep one.
void tellKeyring(const std::string& publicKey, const QString& passphrase);

}  // namespace clendo
