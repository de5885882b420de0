#pragma once
#include <QString>

namespace clendo {

class WindowFrame;

/// What is left of the damaged job that is open, as a new one, which is opened.
void saveWhatIsLeft(WindowFrame& frame, const QString& to);

}  // namespace clendo
