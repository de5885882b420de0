#pragma once
#include <QScrollArea>

namespace clendo {

/// The place of a view: it has all of it, and is scrolled up and down where it needs more. QScrollArea would give what wraps its words the height
/// that it would like to have instead of the least that it needs.
class Room : public QScrollArea {
    Q_OBJECT
public:
    Room(QWidget* view, QWidget* parent);

protected:
    void resizeEvent(QResizeEvent*) override;
    bool eventFilter(QObject*, QEvent*) override;

private:
    void fit();
};

}  // namespace clendo
