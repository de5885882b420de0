#pragma once
#include <QString>

namespace clendo {

class WindowFrame;

/// Shows what would come of a table of cables, and plans what is accepted.
void importTable(WindowFrame& frame, const QString& path);

}  // namespace clendo
