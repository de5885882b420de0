#include "app/loss/loss_drawings.h"

#include <QPainter>

#include "app/widgets/theme.h"

namespace clendo {

LossView::Budget::Budget(QWidget* parent) : QWidget(parent) { setMinimumHeight(em(6.2)); }

double LossView::Budget::rowHeight() const { return em(found_.empty() ? 2.25 : 3.6); }

void LossView::Budget::setReport(const std::optional<LossReport>& of, std::vector<LossByElement> found)
{
    report_ = of;
    found_ = std::move(found);
    QString words;
    for (const auto& one : found_)
        for (const auto& element : one.elements)
            if (element.found)
                words += tr("%1 nm: %2 %3 dB%4\n")
                             .arg(one.wavelength.value(), 0, 'f', 0)
                             .arg(QString::fromStdString(element.name))
                             .arg(element.found->value(), 0, 'f', 2)
                             .arg(element.allowed ? tr(" of %1").arg(element.allowed->value(), 0, 'f', 2) : QString());
    setToolTip(words.trimmed());
    setAccessibleDescription(words.trimmed());
    const std::size_t rows = report_ ? report_->results.size() : 0;
    setFixedHeight(em(1.6) + static_cast<int>(double(std::max<std::size_t>(2, rows)) * rowHeight()));
    update();
}

void LossView::Budget::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(theme().ink);
    QFont bold = font();
    bold.setBold(true);
    p.setFont(bold);
    p.drawText(QRectF(0, 0, width(), em(1.3)), tr("Where the loss may go, and what was lost"));
    p.setFont(font());
    double largest = 0;
    if (report_)
        for (const auto& r : report_->results)
            largest = std::max({largest, r.limit ? r.limit->total.value() : 0.0, r.worst ? r.worst->value() : 0.0});
    if (largest <= 0) {
        p.setPen(theme().soft);
        p.drawText(QRectF(0, em(1.6), width(), em(1.4)), report_ ? tr("No limit is known for what was read.") : tr("No readings yet."));
        return;
    }
    const double scale = (width() - em(11)) / (largest * 1.08);
    double y = em(1.7);
    for (const auto& r : report_->results) {
        paintResult(p, r, y, scale);
        for (const auto& found : found_)
            if (found.wavelength == r.wavelength) paintFound(p, found, y + em(2.15), scale);
        y += rowHeight();
    }
}

/// What the traces show, element by element from A to B; what takes more than it may stands out.
void LossView::Budget::paintFound(QPainter& p, const LossByElement& found, double top, double scale) const
{
    const double left = em(5);
    p.setPen(theme().soft);
    p.drawText(QRectF(0, top, left - 6, em(1.15)), Qt::AlignRight | Qt::AlignVCenter, found.bothWays ? tr("traces") : tr("one way"));
    double x = left;
    int shade = 0;
    for (const auto& element : found.elements) {
        if (!element.found || *element.found <= Decibel(0)) continue;
        const QRectF box(x, top, element.found->value() * scale, em(1.15));
        const bool over = element.allowed && *element.found > *element.allowed;
        p.fillRect(box, shade++ % 2 ? theme().panel : theme().chosen);
        if (over) {
            p.setPen(QPen(theme().damaged, 1.5));
            p.drawRect(box.adjusted(1, 1, -1, -1));
        }
        p.setPen(over ? theme().damaged : theme().ink);
        if (box.width() > em(2))
            p.drawText(
                box.adjusted(3, 0, -2, 0), Qt::AlignVCenter,
                p.fontMetrics().elidedText(QStringLiteral("%1 %2").arg(element.found->value(), 0, 'f', 2).arg(QString::fromStdString(element.name)),
                                           Qt::ElideRight, static_cast<int>(box.width()) - 5));
        x += box.width();
    }
    constexpr double worthSaying = 0.05;
    if (!found.unexplained || std::abs(found.unexplained->value()) < worthSaying) return;
    p.setPen(theme().soft);
    p.drawText(QPointF(x + 5, top + em(0.9)), tr("%1 dB %2 than by source and meter")
                                                  .arg(std::abs(found.unexplained->value()), 0, 'f', 2)
                                                  .arg(found.unexplained->value() > 0 ? tr("less") : tr("more")));
}

/// One wavelength: its own limit, term by term, and under it what was lost.
void LossView::Budget::paintResult(QPainter& p, const LossResult& r, double top, double scale) const
{
    const double left = em(5);
    p.setPen(theme().ink);
    p.drawText(QRectF(0, top, left - 6, em(1.15)), Qt::AlignRight | Qt::AlignVCenter, tr("%1 nm").arg(r.wavelength.value(), 0, 'f', 0));
    if (r.limit) {
        const std::vector<std::pair<QString, double>> terms =
            r.limit->fixedTotal ? std::vector<std::pair<QString, double>>{{tr("given"), r.limit->total.value()}}
                                : std::vector<std::pair<QString, double>>{{tr("fibre"), r.limit->fibre.value()},
                                                                          {tr("connections"), r.limit->connections.value()},
                                                                          {tr("splices"), r.limit->spliceLoss.value()}};
        double x = left;
        int shade = 0;
        for (const auto& [name, dB] : terms) {
            const QRectF box(x, top, dB * scale, em(1.15));
            p.fillRect(box, shade++ % 2 ? theme().panel : theme().chosen);
            p.setPen(theme().ink);
            p.drawText(
                box.adjusted(3, 0, -2, 0), Qt::AlignVCenter,
                p.fontMetrics().elidedText(QStringLiteral("%1 %2").arg(name).arg(dB, 0, 'f', 2), Qt::ElideRight, static_cast<int>(box.width()) - 4));
            x += box.width();
        }
        const double at = left + r.limit->total.value() * scale;
        p.setPen(QPen(theme().damaged, 2));
        p.drawLine(QPointF(at, top - 2), QPointF(at, top + em(2.1)));
        p.drawText(QPointF(at + 4, top + em(0.9)), tr("limit %1").arg(r.limit->total.value(), 0, 'f', 2));
    }
    if (!r.worst) return;
    const double lost = std::max(0.0, r.worst->value()) * scale;
    p.fillRect(QRectF(left, top + em(1.3), lost, em(0.65)), theme().of(r.verdict == LossVerdict::Pass   ? Tone::Fit
                                                                       : r.verdict == LossVerdict::Fail ? Tone::Damaged
                                                                                                        : Tone::Work));
    p.setPen(theme().ink);
    p.drawText(QPointF(left + lost + 5, top + em(1.95)), QString::number(r.worst->value(), 'f', 2));
}

LossView::Fibres::Fibres(QWidget* parent) : QWidget(parent) { setMinimumHeight(em(5.6)); }

void LossView::Fibres::paintEvent(QPaintEvent*)
{
    if (!state || state->plan->links.empty()) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Link* mine = state->link(chosen);
    std::vector<const Link*> links;
    for (const auto& link : state->plan->links)
        if (!mine || link.cable == mine->cable) links.push_back(&link);
    const std::size_t shown = std::min<std::size_t>(links.size(), 24);
    const double w = double(width()) / double(std::max<std::size_t>(shown, 12)), h = std::min<double>(height(), em(8));
    for (std::size_t i = 0; i < shown; ++i) {
        const QRectF box(double(i) * w + 2, 1, w - 4, h - 2);
        const bool here = links[i]->id == chosen;
        p.setPen(QPen(here ? theme().fit : theme().rule, here ? 2 : 1));
        p.setBrush(here ? theme().chosen : theme().card);
        p.drawRoundedRect(box, 4, 4);
        p.setPen(theme().ink);
        p.drawText(QRectF(box.left(), box.top() + 3, box.width(), em(1.2)), Qt::AlignCenter, QString::number(links[i]->fibre));
        const auto& loss = state->state(links[i]->id).loss;
        if (!loss) continue;
        const double floor = box.bottom() - em(1.3), tall = floor - box.top() - em(1.6);
        double bar = box.left() + 4, worst = 0;
        const double each = (box.width() - 8) / std::max<double>(1, double(loss->results.size()));
        for (const auto& r : loss->results) {
            if (!r.worst || !r.limit) continue;
            const double share = std::clamp(r.worst->value() / r.limit->total.value(), 0.0, 1.2) / 1.2;
            p.fillRect(QRectF(bar + 1, floor - share * tall, each - 2, share * tall), theme().of(r.verdict == LossVerdict::Pass   ? Tone::Fit
                                                                                                 : r.verdict == LossVerdict::Fail ? Tone::Damaged
                                                                                                                                  : Tone::Work));
            bar += each;
            worst = std::max(worst, r.worst->value());
        }
        p.setPen(QPen(theme().damaged, 1.2, Qt::DashLine));
        p.drawLine(QPointF(box.left() + 3, floor - tall / 1.2), QPointF(box.right() - 3, floor - tall / 1.2));
        p.setPen(theme().soft);
        p.drawText(QRectF(box.left(), floor + 1, box.width(), em(1.2)), Qt::AlignCenter, QString::number(worst, 'f', 2));
    }
}

}  // namespace clendo
