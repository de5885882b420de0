#pragma once
#include <QString>
#include <functional>

#include "result/result.h"

class QObject;

namespace clendo {

/// The desktop's keyring; loaded when the first passphrase is asked for.
struct Secrets {
    /// Gives an empty text where nothing is kept or the keyring refuses.
    void (*read)(const QString& name, QObject* context, std::function<void(const QString&)> then) = nullptr;
    void (*keep)(const QString& name, const QString& secret) = nullptr;
};
Result<Secrets> secrets();

}  // namespace clendo
