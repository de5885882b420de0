#include "app/reel/length_drawing.h"

#include <QPainter>
#include <algorithm>

#include "app/widgets/bold_font.h"
#include "app/widgets/theme.h"

namespace clendo {
namespace {

QString metres(double m) { return QObject::tr("%1 m").arg(m, 0, 'f', 1); }

}  // namespace

LengthDrawing::LengthDrawing(QWidget* parent) : QWidget(parent) { setObjectName(QStringLiteral("reelLength")); }

void LengthDrawing::show(const reel::ReelLength& length, std::optional<double> price)
{
    rows_.clear();
    ordered_ = length.ordered ? std::optional(length.ordered->value()) : std::nullopt;
    const auto row = [&](const QString& name, Metre at, Metre sigma, bool best) {
        const double half = 2 * sigma.value();
        rows_.push_back({name, tr("%1 ± %2 m").arg(at.value(), 0, 'f', 1).arg(half, 0, 'f', 1), at.value(), half, best});
    };
    if (length.marks)
        row(length.marks->rolledOver ? tr("marks, rolled over") : tr("by the marks"), length.marks->length, length.marks->uncertainty, false);
    if (length.optical) row(tr("by light"), length.optical->length, length.optical->uncertainty, false);
    if (length.best) row(tr("counts"), length.best->length, length.best->uncertainty, true);
    shorter_ = length.shorter();
    verdict_.clear();
    if (const auto lacks = length.shortfall(); lacks && length.best) {
        const double half = 2 * length.best->uncertainty.value();
        verdict_ = lacks->value() >= 0 ? tr("%1 ± %2 m less than ordered, %3 %")
                                             .arg(lacks->value(), 0, 'f', 1)
                                             .arg(half, 0, 'f', 1)
                                             .arg(100 * (*lacks / *length.ordered), 0, 'f', 1)
                                       : tr("%1 ± %2 m more than ordered").arg(-lacks->value(), 0, 'f', 1).arg(half, 0, 'f', 1);
        if (shorter_ && price) verdict_ += tr("; %1 at the price").arg(*price * lacks->value(), 0, 'f', 2);
        if (!shorter_ && lacks->value() > 0) verdict_ += tr(": within what the measurement leaves open");
    }
    QString words = ordered_ ? tr("ordered %1; ").arg(metres(*ordered_)) : QString();
    for (const auto& r : rows_) words += r.name + QLatin1Char(' ') + r.figure + QStringLiteral("; ");
    setAccessibleName(words + verdict_);
    setFixedHeight(em(1.9) + static_cast<int>(rows_.size()) * em(1.45) + (verdict_.isEmpty() ? 0 : em(1.5)));
    update();
}

void LengthDrawing::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(boldOf(*this));
    p.setPen(theme().ink);
    p.drawText(QRectF(0, 0, em(8), em(1.4)), Qt::AlignVCenter, tr("Length"));
    p.setFont(font());
    const double left = em(9.5), right = width() - em(9), wide = right - left;
    if (rows_.empty()) {
        p.setPen(theme().soft);
        p.drawText(QRectF(em(4), 0, width() - em(4), em(1.4)), Qt::AlignVCenter,
                   ordered_ ? tr("%1 ordered; neither marks nor light say more yet").arg(metres(*ordered_)) : tr("nothing is known yet"));
        return;
    }
    double low = ordered_.value_or(rows_.front().at), high = low;
    for (const auto& r : rows_) {
        low = std::min(low, r.at - r.half);
        high = std::max(high, r.at + r.half);
    }
    const double room = std::max(1.0, 0.12 * (high - low));
    low -= room;
    high += room;
    const auto x = [&](double m) { return left + wide * (m - low) / (high - low); };
    const double top = em(1.6), bottom = top + double(rows_.size()) * em(1.45);
    if (ordered_) {
        p.setPen(QPen(theme().ink, 1.5, Qt::DashLine));
        p.drawLine(QPointF(x(*ordered_), em(1.3)), QPointF(x(*ordered_), bottom));
        p.setPen(theme().ink);
        const QString words = tr("ordered %1").arg(metres(*ordered_));
        const double half = p.fontMetrics().horizontalAdvance(words) / 2.0;
        const double middle = std::clamp(x(*ordered_), left + half, width() - half - 2);
        p.drawText(QRectF(middle - half - 2, 0, 2 * half + 4, em(1.3)), Qt::AlignCenter, words);
    }
    double y = top;
    for (const auto& r : rows_) {
        const double middle = y + em(0.7);
        const QColor colour = !r.best ? theme().soft : shorter_ ? theme().damaged : theme().fit;
        p.setPen(r.best ? theme().ink : theme().soft);
        p.setFont(r.best ? boldOf(*this) : font());
        p.drawText(QRectF(0, y, left - 8, em(1.4)), Qt::AlignRight | Qt::AlignVCenter, r.name);
        p.drawText(QRectF(right + 8, y, width() - right - 8, em(1.4)), Qt::AlignVCenter, r.figure);
        p.setPen(QPen(colour, r.best ? 4 : 2));
        p.drawLine(QPointF(x(r.at - r.half), middle), QPointF(x(r.at + r.half), middle));
        p.setPen(QPen(colour, 2));
        p.drawLine(QPointF(x(r.at), middle - em(0.45)), QPointF(x(r.at), middle + em(0.45)));
        y += em(1.45);
    }
    p.setFont(boldOf(*this));
    p.setPen(shorter_ ? theme().damaged : theme().ink);
    p.drawText(QRectF(0, y + em(0.1), width(), em(1.4)), Qt::AlignVCenter, p.fontMetrics().elidedText(verdict_, Qt::ElideRight, width()));
}

}  // namespace clendo
