#pragma once
#include <QDockWidget>

namespace clendo {

class DemoHands;
class WindowFrame;

/// In the demo, your hands: a row of deeds below the desk, with their keys; it can be closed.
class HandsPanel : public QDockWidget {
    Q_OBJECT
public:
    HandsPanel(WindowFrame& frame, DemoHands& hands, QWidget* parent);
};

}  // namespace clendo
