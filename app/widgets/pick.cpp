#include "app/widgets/pick.h"

#include <QInputDialog>

namespace clendo {

std::optional<QString> pick(QWidget* parent, const QString& title, const QString& question, const QStringList& answers, bool ownToo)
{
    bool ok = false;
    const QString answer = QInputDialog::getItem(parent, title, question, answers, 0, ownToo, &ok).trimmed();
    return ok && !answer.isEmpty() ? std::optional(answer) : std::nullopt;
}

}  // namespace clendo
