#include "app/look/contact_graph.h"

#include <QDateTime>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

double head() { return em(2.2); }
double laneHeight() { return em(2.1); }
double nameWidth() { return em(15); }

/// The tip of an arrow that points up or down.
QPainterPath tip(QPointF at, bool down)
{
    const double s = em(0.45);
    QPainterPath path(at);
    path.lineTo(at + QPointF(-s * 0.7, down ? -s : s));
    path.lineTo(at + QPointF(s * 0.7, down ? -s : s));
    path.closeSubpath();
    return path;
}

}  // namespace

ContactGraph::ContactGraph(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("contactGraph"));
    setFocusPolicy(Qt::StrongFocus);
}

void ContactGraph::show(ContactPicture picture, const FaceId& chosen)
{
    picture_ = std::move(picture);
    chosen_ = 0;
    for (std::size_t i = 0; i < picture_.lanes.size(); ++i)
        if (picture_.lanes[i].face == chosen) chosen_ = i;
    setAccessibleName(QString::fromStdString(picture_.story));
    updateGeometry();
    update();
}

FaceId ContactGraph::chosen() const { return chosen_ < picture_.lanes.size() ? picture_.lanes[chosen_].face : FaceId{}; }

QSize ContactGraph::sizeHint() const
{
    return {int(nameWidth()) + em(28), int(head() + laneHeight() * double(std::max<std::size_t>(2, picture_.lanes.size())) + em(0.5))};
}

double ContactGraph::laneY(std::size_t lane) const { return head() + laneHeight() * (double(lane) + 0.5); }

void ContactGraph::choose(std::size_t lane)
{
    chosen_ = std::min(lane, picture_.lanes.empty() ? 0 : picture_.lanes.size() - 1);
    update();
}

void ContactGraph::paintEvent(QPaintEvent*)
{
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), t.card);
    const double left = nameWidth() + em(2), right = width() - em(1.2);
    const std::size_t columns = picture_.times.size();
    const double step = columns > 1 ? (right - left) / double(columns - 1) : 0;
    const auto x = [&](std::size_t column) { return columns > 1 ? left + step * double(column) : (left + right) / 2; };

    for (std::size_t i = 0; i < picture_.lanes.size(); ++i) {
        const auto& lane = picture_.lanes[i];
        const double y = laneY(i);
        if (i == chosen_) p.fillRect(QRectF(0, y - laneHeight() / 2, width(), laneHeight()), t.panel);
        p.setPen(QPen(i == chosen_ ? t.soft : t.rule, 1));
        p.drawLine(QPointF(left - em(0.6), y), QPointF(right + em(0.4), y));
        paintFace(p, {double(em(1.0)), y}, em(0.5), false, lane.condition);
        QFont f = font();
        f.setBold(lane.suspect || i == chosen_);
        p.setFont(f);
        p.setPen(t.ink);
        const QRectF box(em(1.9), y - laneHeight() / 2, nameWidth() - em(2.0), laneHeight());
        p.drawText(box, Qt::AlignVCenter | Qt::AlignLeft,
                   QFontMetricsF(f).elidedText(QString::fromStdString(lane.where), Qt::ElideMiddle, box.width()));
    }
    // clock times above, as many as there is room for
    p.setFont(font());
    p.setPen(t.soft);
    const double room = em(3.6);
    double free = 0;
    for (std::size_t c = 0; c < columns; ++c) {
        if (c > 0 && x(c) < free) continue;
        const QRectF box(x(c) - room / 2, 0, room, head());
        p.drawText(box, Qt::AlignCenter, QDateTime::fromSecsSinceEpoch(picture_.times[c]).toString(QStringLiteral("HH:mm")));
        free = x(c) + room;
    }
    for (const auto& touch : picture_.touches) {
        const QPointF from(x(touch.column), laneY(touch.from)), to(x(touch.column), laneY(touch.to));
        const QColor colour = touch.onWay ? t.work : t.soft;
        p.setPen(QPen(colour, touch.onWay ? em(0.22) : 1.4, touch.onWay ? Qt::SolidLine : Qt::DotLine, Qt::FlatCap));
        const bool down = to.y() > from.y();
        p.drawLine(from, touch.onWay ? to - QPointF(0, down ? em(0.3) : -em(0.3)) : to);
        p.setPen(Qt::NoPen);
        p.setBrush(colour);
        p.drawEllipse(from, em(0.16), em(0.16));
        if (touch.onWay)
            p.drawPath(tip(to, down));
        else
            p.drawEllipse(to, em(0.16), em(0.16));
    }
    for (const auto& look : picture_.looks)
        paintFace(p, {x(look.column), laneY(look.lane)}, em(0.42), false, look.fit ? FaceCondition::Fit : FaceCondition::Work);
}

void ContactGraph::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Up && chosen_ > 0)
        choose(chosen_ - 1);
    else if (event->key() == Qt::Key_Down)
        choose(chosen_ + 1);
    else
        QWidget::keyPressEvent(event);
}

void ContactGraph::mousePressEvent(QMouseEvent* event)
{
    const double lane = (event->position().y() - head()) / laneHeight();
    if (lane >= 0 && lane < double(picture_.lanes.size())) choose(static_cast<std::size_t>(lane));
}

void ContactGraph::mouseDoubleClickEvent(QMouseEvent*) { emit wanted(); }

}  // namespace clendo
