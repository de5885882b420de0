#include "app/sign/signer.h"

#include <QWidget>

namespace clendo {

Signer& Signer::of(QWidget* window)
{
    if (auto* known = window->findChild<Signer*>(QString(), Qt::FindDirectChildrenOnly)) return *known;
    return *new Signer(window);
}

Result<Signer::OpenKey> Signer::keyOf(const OpenKey& open, const std::optional<seal::KeyFile>& file, std::string_view passphrase)
{
    if (open || !file) return open;
    return seal::SigningKey::open(*file, passphrase).map([](seal::SigningKey key) -> OpenKey {
        return std::make_shared<seal::SigningKey>(std::move(key));
    });
}

}  // namespace clendo
