#include "app/sign/keyring.h"

#include <QFileInfo>

#include "modules/secrets.h"

namespace clendo {

bool keyringIsThere()
{
    // without a session bus there is no secret service, and asking for one would wait until it gives up
    static const bool there = [] {
        if (!qEnvironmentVariableIsEmpty("DBUS_SESSION_BUS_ADDRESS")) return true;
        const QString runtime = qEnvironmentVariable("XDG_RUNTIME_DIR");
        return !runtime.isEmpty() && QFileInfo::exists(runtime + QStringLiteral("/bus"));
    }();
    return there;
}

void askKeyring(const std::string& publicKey, QObject* context, std::function<void(const QString&)> then)
{
    if (const auto module = secrets()) module->read(QString::fromStdString(publicKey), context, std::move(then));
}

void tellKeyring(const std::string& publicKey, const QString& passphrase)
{
    if (const auto module = secrets()) module->keep(QString::fromStdString(publicKey), passphrase);
}

}  // namespace clendo
