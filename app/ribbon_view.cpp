#include "app/ribbon_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include "app/theme.h"

namespace clendo {

RibbonView::RibbonView(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("ribbon"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("The chosen link from end A to end B"));
}

QSize RibbonView::sizeHint() const { return {em(50), em(7.4)}; }

void RibbonView::show(const JobState* state, const Link* link, const FaceId& chosen)
{
    state_ = state;
    link_ = link;
    chosen_ = chosen;
    update();
}

double RibbonView::xOf(Metre at) const
{
    const double left = em(8), right = width() - em(8);
    return left + (right - left) * (at / link_->cable->length);
}

QPointF RibbonView::middleOf(const FaceId& face) const
{
    const bool mated = state_->state(link_->id).mated.contains(face.end);
    const bool leftHalf = (face.end == End::A) == (face.side == Side::Cord);
    const double x = xOf(face.end == End::A ? Metre(0) : link_->cable->length), gap = mated ? 1 : em(0.35);
    return {x + (leftHalf ? -gap : gap), double(em(2.75))};
}

void RibbonView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().card);
    p.setPen(theme().rule);
    p.drawLine(rect().bottomLeft(), rect().bottomRight());
    if (!link_) {
        p.setPen(theme().soft);
        p.drawText(rect(), Qt::AlignCenter, tr("No link yet: plan a cable"));
        return;
    }
    const double y = em(2.75), radius = em(0.82);
    p.setPen(QPen(theme().ink, 2.2));
    p.drawLine(QPointF(em(2.5), y), QPointF(width() - em(2.5), y));
    for (const auto& face : link_->faces()) {
        const QPointF middle = middleOf(face);
        const bool left = (face.end == End::A) == (face.side == Side::Cord);
        const QRectF half(left ? middle.x() - radius * 1.55 : middle.x(), y - radius * 1.25, radius * 1.55, radius * 2.5);
        if (face == chosen_) {
            p.setPen(QPen(theme().fit, 1.5));
            p.setBrush(theme().chosen);
            p.drawRoundedRect(half.adjusted(-5, -4, 5, 4), 6, 6);
        }
        paintFace(p, middle, radius, left, state_->face(face).condition);
    }
    QFont small = font();
    small.setPointSizeF(font().pointSizeF() * 0.88);
    p.setFont(small);
    for (const End end : {End::A, End::B}) {
        const double x = xOf(end == End::A ? Metre(0) : link_->cable->length);
        p.setPen(theme().ink);
        p.drawText(QRectF(x - em(7), em(0.2), em(14), em(1.1)), Qt::AlignCenter, QString::fromStdString(link_->where({link_->id, end, Side::Port})));
        const FaceId& id = chosen_;
        if (id.end == end) {
            p.setPen(theme().soft);
            const QString word = QString::fromStdString(std::string(name(state_->face(id).condition)));
            p.drawText(QRectF(x - em(7), em(3.9), em(14), em(1.1)), Qt::AlignCenter,
                       (id.side == Side::Cord ? tr("cord: %1") : tr("port: %1")).arg(word));
        }
    }
    for (const auto& splice : link_->cable->splices) {
        const double x = xOf(splice.at), r = em(0.32);
        QPolygonF diamond{{x - r, y}, {x, y - r * 1.3}, {x + r, y}, {x, y + r * 1.3}};
        p.setPen(QPen(theme().ink, 1.6));
        p.setBrush(theme().card);
        p.drawPolygon(diamond);
        p.setPen(theme().soft);
        p.drawText(QRectF(x - em(7), em(0.2), em(14), em(1.1)), Qt::AlignCenter, tr("splice, %1").arg(QString::fromStdString(splice.name)));
    }
    paintLoss(p, em(5.0), em(2.0));
}

/// The planned loss as a soft staircase, the measured loss as a mark on its scale.
void RibbonView::paintLoss(QPainter& p, double top, double height) const
{
    const LimitSet* limits = state_->limitsFor(*link_->cable);
    if (!limits) return;
    const double wavelength = state_->wavelengthsFor(*link_->cable).front();
    const auto limit =
        budget({link_->cable->fibre, link_->cable->length, connectionsPerLink, static_cast<int>(link_->cable->splices.size())},
               state_->state(link_->id).loss ? state_->state(link_->id).loss->method : state_->job.method, Nanometre(wavelength), *limits);
    if (!limit || limit->total <= Decibel(0)) return;
    const auto yOf = [&](double dB) { return top + height * std::min(1.15, dB / limit->total.value()); };
    double at = 0;
    QPolygonF stairs{{xOf(Metre(0)), top}};
    const double end = limit->connections.value() / 2;
    stairs << QPointF(xOf(Metre(0)), yOf(at += end));
    Metre last(0);
    for (const auto& splice : link_->cable->splices) {
        stairs << QPointF(xOf(splice.at), yOf(at += (limit->attenuation * (splice.at - last)).value()));
        stairs << QPointF(xOf(splice.at), yOf(at += limit->spliceLoss.value() / double(link_->cable->splices.size())));
        last = splice.at;
    }
    stairs << QPointF(xOf(link_->cable->length), yOf(at += (limit->attenuation * (link_->cable->length - last)).value()));
    stairs << QPointF(xOf(link_->cable->length), yOf(at + end)) << QPointF(xOf(link_->cable->length), top);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().chosen);
    p.drawPolygon(stairs);
    p.setPen(theme().soft);
    p.drawText(QRectF(em(0.6), top - em(0.1), em(7), em(1.1)), Qt::AlignLeft, tr("may lose"));
    p.drawText(QRectF(width() - em(7.6), top + height - em(1.0), em(7), em(1.1)), Qt::AlignRight, tr("%1 dB").arg(limit->total.value(), 0, 'f', 2));
    const auto& loss = state_->state(link_->id).loss;
    if (!loss) return;
    for (const auto& r : loss->results) {
        if (!r.worst || std::abs(r.wavelength.value() - wavelength) > 1) continue;
        const double y = yOf(std::max(0.0, r.worst->value()));
        p.setPen(QPen(theme().of(r.verdict == LossVerdict::Pass ? Tone::Fit : r.verdict == LossVerdict::Fail ? Tone::Damaged : Tone::Work), 2.2));
        p.drawLine(QPointF(xOf(Metre(0)), top), QPointF(xOf(link_->cable->length), y));
        p.drawText(QRectF(width() - em(7.6), top - em(0.1), em(7), em(1.1)), Qt::AlignRight, tr("lost %1").arg(r.worst->value(), 0, 'f', 2));
    }
}

void RibbonView::mousePressEvent(QMouseEvent* event)
{
    if (!link_) return;
    const FaceId* best = nullptr;
    const auto faces = link_->faces();
    double nearest = em(2.2);
    for (const auto& face : faces) {
        const bool left = (face.end == End::A) == (face.side == Side::Cord);
        const double off = std::hypot(middleOf(face).x() + (left ? -1 : 1) * em(0.5) - event->position().x(), em(2.75) - event->position().y());
        if (off < nearest) {
            nearest = off;
            best = &face;
        }
    }
    if (best) emit faceChosen(*best);
}

}  // namespace clendo
