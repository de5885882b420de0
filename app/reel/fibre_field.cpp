#include "app/reel/fibre_field.h"

#include <QHelpEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>
#include <map>

#include "app/widgets/bold_font.h"
#include "app/widgets/theme.h"

namespace clendo {

FibreField::FibreField(QWidget* parent) : QWidget(parent) { setObjectName(QStringLiteral("reelFibres")); }

void FibreField::show(const ReelStanding& s)
{
    const int count = s.filed && s.filed->delivered ? s.filed->delivered->what.delivery.fibres : 0;
    fibres_.assign(static_cast<std::size_t>(count), Fibre::NotAsked);
    says_.assign(fibres_.size(), {});
    strips_.clear();
    const auto set = [&](const std::vector<int>& which, Fibre what) {
        for (const int n : which)
            if (n >= 1 && n <= count) fibres_[static_cast<std::size_t>(n - 1)] = what;
    };
    set(s.wanted, Fibre::Asked);
    set(s.report.tested, Fibre::Good);
    set(s.open, Fibre::Asked);
    set(s.report.bad, Fibre::Bad);
    std::map<int, Strip> strips;
    for (const auto& a : s.report.attenuation) {
        const int nm = static_cast<int>(std::lround(a.wavelength.value() / 10) * 10);
        Strip& strip = strips[nm];
        strip.wavelength = nm;
        strip.measured.push_back(a.measured.value());
        if (a.allowed) strip.allowed = a.allowed->value();
        if (a.fibre >= 1 && a.fibre <= count)
            says_[static_cast<std::size_t>(a.fibre - 1)] += tr("\n%1 nm: %2 dB/km").arg(nm).arg(a.measured.value(), 0, 'f', 3);
    }
    for (const auto& f : s.report.faults)
        if (f.fibre >= 1 && f.fibre <= count) says_[static_cast<std::size_t>(f.fibre - 1)] += QLatin1Char('\n') + QString::fromStdString(f.words);
    for (auto& [nm, strip] : strips) {
        if (s.filed && s.filed->delivered)
            for (const auto& [of, value] : s.filed->delivered->what.delivery.supplier)
                if (std::abs(of - nm) < 15) strip.papers = value.value();
        strips_.push_back(strip);
    }
    setAccessibleName(tr("%1 fibres tested, %2 bad, %3 open").arg(s.report.tested.size()).arg(s.report.bad.size()).arg(s.open.size()));
    fit();
    update();
}

int FibreField::columns() const
{
    const int most = std::clamp(width() / em(1.75), 12, 48);
    return std::max(1, std::min<int>(static_cast<int>(fibres_.size()), most / 12 * 12));
}

QRectF FibreField::boxOf(int fibre) const
{
    const int n = columns();
    const double wide = std::min<double>(em(2.6), double(width()) / n), high = em(1.5);
    return {(fibre - 1) % n * wide, em(1.6) + (fibre - 1) / n * high, wide - 3, high - 3};
}

void FibreField::fit()
{
    const double field = fibres_.empty() ? em(1.6) : boxOf(static_cast<int>(fibres_.size())).bottom() + em(0.5);
    setFixedHeight(static_cast<int>(field) + static_cast<int>(strips_.size()) * em(2.9));
}

void FibreField::resizeEvent(QResizeEvent*) { fit(); }

void FibreField::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(boldOf(*this));
    p.setPen(theme().ink);
    p.drawText(QRectF(0, 0, em(8), em(1.4)), Qt::AlignVCenter, tr("Fibres"));
    p.setFont(font());
    p.setPen(theme().soft);
    p.drawText(QRectF(em(4), 0, width() - em(4), em(1.4)), Qt::AlignVCenter,
               p.fontMetrics().elidedText(tr("filled: tested and right · notched: bad · framed: asked for · thin: not asked for"), Qt::ElideRight,
                                          width() - em(4)));
    for (int n = 1; n <= static_cast<int>(fibres_.size()); ++n) {
        const QRectF box = boxOf(n);
        const Fibre what = fibres_[static_cast<std::size_t>(n - 1)];
        QPainterPath shape;
        shape.addRoundedRect(box, 3, 3);
        if (what == Fibre::Bad) {
            QPainterPath notch;
            notch.moveTo(box.center().x() - box.width() / 5, box.top());
            notch.lineTo(box.center().x() + box.width() / 5, box.top());
            notch.lineTo(box.center().x(), box.top() + box.height() / 3);
            notch.closeSubpath();
            shape = shape.subtracted(notch);
        }
        const bool filled = what == Fibre::Good || what == Fibre::Bad;
        p.setBrush(filled ? QBrush(what == Fibre::Bad ? theme().damaged : theme().fit) : QBrush(theme().card));
        p.setPen(filled ? QPen(Qt::NoPen) : what == Fibre::Asked ? QPen(theme().work, 2, Qt::DashLine) : QPen(theme().rule, 1));
        p.drawPath(shape);
        p.setPen(filled ? theme().onFit() : theme().ink);
        if (box.width() > p.fontMetrics().horizontalAdvance(QString::number(n)))
            p.drawText(box.adjusted(0, what == Fibre::Bad ? 3 : 0, 0, 0), Qt::AlignCenter, QString::number(n));
    }
    double top = fibres_.empty() ? em(1.6) : boxOf(static_cast<int>(fibres_.size())).bottom() + em(0.5);
    for (const auto& strip : strips_) {
        paintStrip(p, strip, top);
        top += em(2.9);
    }
}

/// All fibres of a wavelength on one axis from nothing to a bit more than is allowed.
void FibreField::paintStrip(QPainter& p, const Strip& strip, double top) const
{
    const double left = em(5), right = width() - em(4.5), line = top + em(1.75);
    const auto [least, largest] = std::minmax_element(strip.measured.begin(), strip.measured.end());
    const double most = 1.15 * std::max({*largest, strip.allowed.value_or(0), strip.papers.value_or(0)});
    const auto x = [&](double value) { return left + (right - left) * value / most; };
    p.setPen(theme().ink);
    p.drawText(QRectF(0, line - em(0.7), left - 8, em(1.4)), Qt::AlignRight | Qt::AlignVCenter, tr("%1 nm").arg(strip.wavelength));
    p.setPen(QPen(theme().rule, 1));
    p.drawLine(QPointF(left, line), QPointF(right, line));
    p.setBrush(Qt::NoBrush);
    for (const double value : strip.measured) {
        const bool over = strip.allowed && value > *strip.allowed;
        p.setPen(QPen(over ? theme().damaged : theme().fit, 1.6));
        p.drawEllipse(QPointF(x(value), line), em(0.28), em(0.28));
    }
    const QString measured =
        strip.measured.size() == 1 ? tr("%1 dB/km").arg(*least, 0, 'f', 3) : tr("%1 to %2 dB/km").arg(*least, 0, 'f', 3).arg(*largest, 0, 'f', 3);
    p.setPen(theme().ink);
    p.drawText(QPointF(left, line - em(0.5)), measured);
    if (strip.papers) {
        p.setPen(QPen(theme().soft, 1, Qt::DashLine));
        p.drawLine(QPointF(x(*strip.papers), line - em(0.5)), QPointF(x(*strip.papers), line + em(0.5)));
        p.setPen(theme().soft);
        const QString words = tr("papers %1").arg(*strip.papers);
        p.drawText(QPointF(std::max(left, x(*strip.papers) - 4 - p.fontMetrics().horizontalAdvance(words)), line + em(1.05)), words);
    }
    if (strip.allowed) {
        p.setPen(QPen(theme().damaged, 2));
        p.drawLine(QPointF(x(*strip.allowed), line - em(0.7)), QPointF(x(*strip.allowed), line + em(0.7)));
        const QString words = tr("ordered %1").arg(*strip.allowed);
        p.setPen(theme().damaged);
        p.drawText(QPointF(x(*strip.allowed) + 4, line + em(1.05)), words);
    }
}

bool FibreField::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    for (int n = 1; n <= static_cast<int>(fibres_.size()); ++n)
        if (boxOf(n).contains(help->pos())) {
            static const QStringList words{tr("not asked for"), tr("asked for, not tested"), tr("tested and right"), tr("bad")};
            QToolTip::showText(help->globalPos(),
                               tr("fibre %1: %2%3")
                                   .arg(n)
                                   .arg(words[static_cast<int>(fibres_[static_cast<std::size_t>(n - 1)])], says_[static_cast<std::size_t>(n - 1)]),
                               this);
            return true;
        }
    QToolTip::hideText();
    return true;
}

}  // namespace clendo
