#pragma once
#include <QPolygonF>
#include <QWidget>

#include "app/trace/trace_drawing.h"

namespace clendo {

/// All of the line in small, and which part of it the plot above shows. A click or a drag takes the plot there.
class OverviewStrip : public QWidget {
    Q_OBJECT
public:
    explicit OverviewStrip(QWidget* parent = nullptr);
    /// The drawing of all of the line, and what is seen of it.
    void show(const TraceDrawing& whole, SeenRange seen);
    void see(SeenRange seen);
    [[nodiscard]] QSize sizeHint() const override;

signals:
    void wanted(double middle);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;

private:
    [[nodiscard]] double xOf(double at) const;

    TraceDrawing whole_;
    SeenRange seen_{0, 0};
};

}  // namespace clendo
