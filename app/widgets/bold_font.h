#pragma once
#include <QFont>
#include <QWidget>

namespace clendo {

/// A widget's type in bold, to be painted with.
inline QFont boldOf(const QWidget& widget)
{
    QFont bold = widget.font();
    bold.setBold(true);
    return bold;
}

}  // namespace clendo
