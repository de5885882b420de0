#include "app/sign/signer.h"

#include <QWidget>

namespace clendo {

Signer& Signer::of(QWidget* window)
{
    if (auto* known = window->findChild<Signer*>(QString(), Qt::FindDirectChildrenOnly)) return *known;
    return *new Signer(window);
}

}  // namespace clendo
