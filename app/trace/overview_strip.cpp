#include "app/trace/overview_strip.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/widgets/theme.h"

namespace clendo {

OverviewStrip::OverviewStrip(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("overviewStrip"));
    setAccessibleName(tr("All of the line, and the part of it that is shown"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setCursor(Qt::PointingHandCursor);
}

QSize OverviewStrip::sizeHint() const { return {em(20), em(2.2)}; }

void OverviewStrip::show(const TraceDrawing& whole, SeenRange seen)
{
    whole_ = whole;
    see(seen);
}

void OverviewStrip::see(SeenRange seen)
{
    seen_ = seen;
    update();
}

double OverviewStrip::xOf(double at) const { return width() * (at - whole_.first) / std::max(1e-9, whole_.last - whole_.first); }

void OverviewStrip::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    if (whole_.distance.isEmpty()) return;
    const QRectF part(QPointF(xOf(seen_.first), 0), QPointF(xOf(seen_.second), height()));
    p.fillRect(part, theme().chosen);
    const double tall = std::max(1e-9, whole_.top - whole_.bottom);
    QPolygonF line;
    for (qsizetype i = 0; i < whole_.distance.size(); ++i)
        line << QPointF(xOf(whole_.distance[i]), height() * std::clamp((whole_.top - whole_.level[i]) / tall, 0.0, 1.0));
    p.setPen(QPen(theme().ink, 1));
    p.drawPolyline(line);
    p.setPen(QPen(theme().fit, 2));
    p.drawRect(part.adjusted(1, 1, -1, -1));
}

void OverviewStrip::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton || width() == 0) return;
    emit wanted(whole_.first + (whole_.last - whole_.first) * event->position().x() / width());
}

void OverviewStrip::mouseMoveEvent(QMouseEvent* event)
{
    if (event->buttons() & Qt::LeftButton && width() > 0) emit wanted(whole_.first + (whole_.last - whole_.first) * event->position().x() / width());
}

}  // namespace clendo
