#pragma once
#include <QStringList>
#include <optional>

class QWidget;

namespace clendo {

/// Asks one thing with a list; nothing where it was given up. `ownToo`: something else may be typed.
std::optional<QString> pick(QWidget* parent, const QString& title, const QString& question, const QStringList& answers, bool ownToo);

}  // namespace clendo
