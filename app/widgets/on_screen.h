#pragma once
#include <QScreen>
#include <QWidget>

#include "app/widgets/theme.h"

namespace clendo {

/// A window of this size, or of what the screen has left for it under a title bar.
inline void resizeOnScreen(QWidget& window, const QSize& size)
{
    const QScreen* screen = window.screen();
    window.resize(screen ? size.boundedTo(screen->availableSize() - QSize(0, em(2.6))) : size);
}

}  // namespace clendo
