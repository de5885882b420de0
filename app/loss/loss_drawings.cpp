#include "app/loss/loss_drawings.h"

#include <QPainter>
#include <QPainterPath>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

/// Boxes and cords along one line; `middle` names what stands between, by what joins them.
class PlugPainter {
public:
    PlugPainter(QPainter& p, double y, double width) : p_(p), y_(y), width_(width) {}

    void row(const QString& title, const std::vector<QString>& parts, const std::vector<bool>& counted)
    {
        p_.setPen(theme().soft);
        p_.drawText(QRectF(0, y_ - em(0.7), em(8), em(1.4)), Qt::AlignVCenter, title);
        const double left = em(8.5), box = em(4.4), right = width_ - box - 2;
        drawBox(left, box, QObject::tr("source"));
        drawBox(right, box, QObject::tr("meter"));
        const double from = left + box, step = (right - from) / double(parts.size());
        for (std::size_t i = 0; i < parts.size(); ++i) {
            const double a = from + step * double(i), b = a + step;
            const bool link = parts[i].startsWith(QLatin1Char('='));
            QPainterPath path(QPointF(a, y_));
            if (link)
                path.lineTo(b, y_);
            else
                path.cubicTo(a + step * 0.35, y_ - em(0.8), a + step * 0.65, y_ + em(0.8), b, y_);
            p_.setPen(QPen(link ? theme().ink : theme().fit, link ? 3 : 2));
            p_.setBrush(Qt::NoBrush);
            p_.drawPath(path);
            p_.setPen(theme().soft);
            p_.drawText(QRectF(a, y_ + em(0.55), step, em(1.2)), Qt::AlignCenter, link ? parts[i].mid(1) : parts[i]);
            if (i + 1 < parts.size()) {
                const auto condition = counted[i] ? FaceCondition::Fit : FaceCondition::NotSeen;
                paintFace(p_, {b - 1, y_}, em(0.42), true, condition);
                paintFace(p_, {b + 1, y_}, em(0.42), false, condition);
            }
        }
    }

private:
    void drawBox(double x, double w, const QString& text)
    {
        const QRectF box(x, y_ - em(0.85), w, em(1.7));
        p_.setPen(QPen(theme().ink, 1.4));
        p_.setBrush(theme().card);
        p_.drawRoundedRect(box, 5, 5);
        p_.drawText(box, Qt::AlignCenter, text);
    }

    QPainter& p_;
    double y_, width_;
};

}  // namespace

LossView::Diagram::Diagram(QWidget* parent) : QWidget(parent) { setFixedHeight(em(6.2)); }

void LossView::Diagram::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    PlugPainter reference(p, em(1.4), width()), measure(p, em(4.7), width());
    const QString link = QStringLiteral("=") + tr("fibre %1").arg(fibre);
    switch (method) {
        case ReferenceMethod::OneCord:
            reference.row(tr("Reference"), {tr("cord R1")}, {});
            measure.row(tr("Then read"), {tr("cord R1"), link, tr("cord R2")}, {true, true});
            break;
        case ReferenceMethod::TwoCord:
            reference.row(tr("Reference"), {tr("cord R1"), tr("cord R2")}, {false});
            measure.row(tr("Then read"), {tr("cord R1"), link, tr("cord R2")}, {true, false});
            break;
        case ReferenceMethod::ThreeCord:
            reference.row(tr("Reference"), {tr("cord R1"), tr("cord R3"), tr("cord R2")}, {false, false});
            measure.row(tr("Then read"), {tr("cord R1"), link, tr("cord R2")}, {false, false});
            break;
        case ReferenceMethod::SingleEnded:
            reference.row(tr("Reference"), {tr("cord R1")}, {});
            measure.row(tr("Then read"), {tr("cord R1"), link}, {true});
            break;
    }
}

LossView::Budget::Budget(QWidget* parent) : QWidget(parent) { setMinimumHeight(em(6.2)); }

void LossView::Budget::setReport(const std::optional<LossReport>& of)
{
    report_ = of;
    const std::size_t rows = report_ ? report_->results.size() : 0;
    setFixedHeight(em(1.6) + static_cast<int>(std::max<std::size_t>(2, rows)) * em(2.25));
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
        y += em(2.25);
    }
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
