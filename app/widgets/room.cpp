#include "app/widgets/room.h"

#include <QEvent>
#include <QLayout>
#include <QScrollBar>

namespace clendo {

Room::Room(QWidget* view, QWidget* parent) : QScrollArea(parent)
{
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);
    setWidget(view);
    view->installEventFilter(this);
}

void Room::resizeEvent(QResizeEvent* event)
{
    QScrollArea::resizeEvent(event);
    fit();
}

bool Room::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == widget() && event->type() == QEvent::LayoutRequest) fit();
    return QScrollArea::eventFilter(watched, event);
}

void Room::fit()
{
    const QLayout* layout = widget()->layout();
    const auto least = [&](int width) {
        const int height = widget()->minimumSizeHint().height();
        return layout && layout->hasHeightForWidth() ? std::max(height, layout->minimumHeightForWidth(width)) : height;
    };
    const QSize all = maximumViewportSize();
    const int needed = widget()->minimumSizeHint().width();
    const bool beside = least(all.width()) > all.height();  // a bar stands beside it and takes of its width
    const int width = std::max(all.width() - (beside ? verticalScrollBar()->sizeHint().width() : 0), needed);
    widget()->resize(width, std::max(all.height(), least(width)));
}

}  // namespace clendo
