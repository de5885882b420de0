#include "app/reel/sample_curve.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

/// The number of bad fibres nearest to a share; one at least, where any are meant.
int badOf(const reel::SamplingPlan& plan, int percent)
{
    return percent == 0 ? 0 : std::max(1, static_cast<int>(std::lround(plan.lot * percent / 100.0)));
}

}  // namespace

SampleCurve::SampleCurve(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("sampleCurve"));
    setFixedHeight(em(9));
}

QString SampleCurve::words(const reel::SamplingPlan& plan, int percent)
{
    const int bad = badOf(plan, percent);
    return (bad == 1 ? tr("A reel with %1 bad fibre of %2 (%3 %) is accepted in %4 % of cases.")
                     : tr("A reel with %1 bad fibres of %2 (%3 %) is accepted in %4 % of cases."))
        .arg(bad)
        .arg(plan.lot)
        .arg(100.0 * bad / plan.lot, 0, 'f', 0)
        .arg(100 * reel::acceptedWith(plan, bad), 0, 'f', 0);
}

void SampleCurve::show(const reel::SamplingPlan& plan, int percent)
{
    plan_ = plan;
    percent_ = percent;
    setAccessibleName(words(plan, percent));
    update();
}

void SampleCurve::paintEvent(QPaintEvent*)
{
    if (!plan_) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF frame(em(3.6), em(0.6), width() - em(4.6), height() - em(3));
    constexpr double most = 0.3;  // of the fibres
    const auto place = [&](double share, double accepted) {
        return QPointF(frame.left() + frame.width() * share / most, frame.bottom() - frame.height() * accepted);
    };
    p.setPen(QPen(theme().rule, 1));
    for (const double part : {0.0, 0.5, 1.0}) {
        p.setPen(QPen(theme().rule, 1));
        p.drawLine(place(0, part), place(most, part));
        p.setPen(theme().soft);
        p.drawText(QRectF(0, place(0, part).y() - em(0.7), frame.left() - 6, em(1.4)), Qt::AlignRight | Qt::AlignVCenter,
                   tr("%1 %").arg(100 * part, 0, 'f', 0));
    }
    for (int tick = 0; tick <= 30; tick += 5)
        p.drawText(QRectF(place(tick / 100.0, 0).x() - em(2), frame.bottom() + 2, em(4), em(1.2)), Qt::AlignCenter, QString::number(tick));
    p.drawText(QRectF(frame.left(), frame.bottom() + em(1.15), frame.width(), em(1.2)), Qt::AlignCenter,
               tr("bad fibres, % · how often the reel is accepted, % of cases"));
    QPainterPath curve;
    for (int bad = 0; bad <= plan_->lot * most + 1; ++bad) {
        const QPointF at = place(std::min(most, double(bad) / plan_->lot), reel::acceptedWith(*plan_, bad));
        if (bad == 0)
            curve.moveTo(at);
        else
            curve.lineTo(at);
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme().fit, 2));
    p.drawPath(curve);
    const int bad = badOf(*plan_, percent_);
    const QPointF marked = place(std::min(most, double(bad) / plan_->lot), reel::acceptedWith(*plan_, bad));
    p.setPen(QPen(theme().work, 1.5, Qt::DashLine));
    p.drawLine(QPointF(marked.x(), frame.bottom()), marked);
    p.drawLine(QPointF(frame.left(), marked.y()), marked);
    p.setBrush(theme().work);
    p.drawEllipse(marked, em(0.25), em(0.25));
}

}  // namespace clendo
