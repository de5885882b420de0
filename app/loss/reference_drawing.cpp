#include "app/loss/reference_drawing.h"

#include <QDateTime>
#include <QPainter>
#include <algorithm>

#include "app/widgets/theme.h"
#include "record/facts/light_facts.h"

namespace clendo {

ReferenceDrawing::ReferenceDrawing(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("referenceDrawing"));
    setFixedHeight(em(7));
    hide();
}

void ReferenceDrawing::show(const JobState& state, Decibel most)
{
    proofs_ = state.proofs;
    checks_ = state.checks;
    most_ = most;
    tolerated_ = Decibel(state.plan->policyDecimal("drift").value_or(0.1));
    setVisible(!proofs_.empty() || !checks_.empty());
    update();
}

/// One finding after the other, the band between low and high being what is allowed.
void ReferenceDrawing::paintPoints(QPainter& p, const QRectF& box, const std::vector<ReferenceFinding>& points, Decibel low, Decibel high,
                                   const QString& title) const
{
    QFont bold = font();
    bold.setBold(true);
    p.setFont(bold);
    p.setPen(theme().ink);
    p.drawText(QRectF(box.left(), box.top(), box.width(), em(1.3)), Qt::AlignLeft, title);
    p.setFont(font());
    const QRectF plot(box.left() + em(3.4), box.top() + em(1.7), box.width() - em(4), box.height() - em(3.2));
    double least = low.value(), greatest = high.value();
    for (const auto& point : points) {
        least = std::min(least, point.loss.value());
        greatest = std::max(greatest, point.loss.value());
    }
    const double span = std::max(0.05, greatest - least) * 1.25, middle = (least + greatest) / 2;
    const auto y = [&](double value) { return plot.center().y() - (value - middle) / span * plot.height(); };
    p.fillRect(QRectF(QPointF(plot.left(), y(high.value())), QPointF(plot.right(), y(low.value()))), theme().card);
    for (const double edge : {low.value(), high.value()}) {
        p.setPen(QPen(theme().rule, 1));
        p.drawLine(QPointF(plot.left(), y(edge)), QPointF(plot.right(), y(edge)));
        p.setPen(theme().soft);
        p.drawText(QRectF(box.left(), y(edge) - em(0.7), em(3.1), em(1.4)), Qt::AlignRight | Qt::AlignVCenter, QString::number(edge, 'f', 2));
    }
    if (points.empty()) {
        p.setPen(theme().soft);
        p.drawText(plot, Qt::AlignCenter, tr("none yet"));
        return;
    }
    constexpr std::size_t most = 24;  // the newest
    const std::size_t from = points.size() > most ? points.size() - most : 0;
    const double step = plot.width() / double(points.size() - from + 1);
    for (std::size_t i = from; i < points.size(); ++i) {
        const auto& point = points[i];
        const bool good = point.loss >= low && point.loss <= high;
        const QPointF at(plot.left() + step * double(i - from + 1), y(point.loss.value()));
        p.setPen(QPen(good ? theme().fit : theme().damaged, 1.6));
        p.setBrush(good ? QBrush(theme().fit) : QBrush(Qt::NoBrush));
        p.drawEllipse(at, em(0.28), em(0.28));
        if (!good) p.drawLine(at + QPointF(0, em(0.28)), QPointF(at.x(), y(point.loss > high ? high.value() : low.value())));
    }
    const auto when = [](std::int64_t at) { return QDateTime::fromSecsSinceEpoch(at).toString(QStringLiteral("HH:mm")); };
    p.setPen(theme().soft);
    const auto& last = points.back();
    p.drawText(QRectF(box.left(), plot.bottom() + em(0.2), box.width(), em(1.3)), Qt::AlignRight,
               tr("%1 to %2; last %3 dB at %4 nm")
                   .arg(when(points[from].at), when(last.at))
                   .arg(last.loss.value(), 0, 'f', 2)
                   .arg(std::lround(last.wavelength.value())));
}

void ReferenceDrawing::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double half = width() / 2.0;
    paintPoints(p, QRectF(0, 0, half - em(0.5), height()), proofs_, Decibel(0), most_, tr("Proof: what the receive cord added, dB"));
    paintPoints(p, QRectF(half + em(0.5), 0, half - em(0.5), height()), checks_, -tolerated_, tolerated_, tr("Checks: drift of the reference, dB"));
}

}  // namespace clendo
