#include "app/plan/plan_drawing.h"

#include <QPainter>
#include <algorithm>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

QString text(const std::string& words) { return QString::fromStdString(words); }

}  // namespace

PlanDrawing::PlanDrawing(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("planDrawing"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

QSize PlanDrawing::sizeHint() const { return {em(46), em(7.4)}; }

void PlanDrawing::show(const CablePlan& cable, const QString& odd)
{
    cable_ = cable;
    odd_ = odd;
    setAccessibleName((endWords(End::A) + endWords(End::B) + QStringList{fibreWords(), odd_}).join(QStringLiteral("; ")));
    update();
}

/// Place, panel and ports of an end, as far as they are known.
QStringList PlanDrawing::endWords(End end) const
{
    const std::string& place = cable_.place(end);
    QStringList out{place.empty() ? (end == End::A ? tr("end A") : tr("end B")) : text(place)};
    const int first = cable_.firstPortAt(end), last = first + std::max(1, cable_.ports()) - 1;
    const QString ports = first == last ? tr("port %1").arg(first) : tr("ports %1 to %2").arg(first).arg(last);
    const QString panel = text(cable_.rackAndPanel(end));
    out << (panel.trimmed().isEmpty() ? ports : panel + QStringLiteral(", ") + ports);
    out << text(cable_.connectorAt(end)) + QStringLiteral(", ") + text(cable_.classAt(end));
    return out;
}

QString PlanDrawing::fibreWords() const
{
    if (cable_.id.empty()) return tr("The fibres are called after the cable's name.");
    const auto links = linksOf(cable_);
    if (links.empty()) return {};
    const auto one = [](const Link& link) { return text(link.id) + QStringLiteral(" ") + text(link.colour); };
    return links.size() == 1 ? tr("Fibre %1").arg(one(links.front())) : tr("Fibres %1 … %2").arg(one(links.front()), one(links.back()));
}

double PlanDrawing::xOf(Metre at) const
{
    const double left = em(4), right = width() - em(4);
    const double share = cable_.length > Metre(0) ? std::clamp(at / cable_.length, 0.0, 1.0) : 0.5;
    return left + (right - left) * share;
}

void PlanDrawing::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    p.setPen(QPen(t.rule, 1));
    p.setBrush(t.card);
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6);
    const double y = em(1.5), left = em(4), right = width() - em(4);
    p.setPen(QPen(t.ink, 2.2));
    p.drawLine(QPointF(em(1), y), QPointF(width() - em(1), y));
    for (const double x : {left, right}) {
        paintFace(p, {x - em(0.15), y}, em(0.7), true, FaceCondition::NotSeen);
        paintFace(p, {x + em(0.15), y}, em(0.7), false, FaceCondition::NotSeen);
    }
    const QFontMetrics metrics(font());
    int row = 0;
    const auto below = [&](double x, const QString& words, const QColor& colour) {
        const double wide = metrics.horizontalAdvance(words);
        p.setPen(colour);
        p.drawText(QPointF(std::clamp(x - wide / 2, double(em(13)), std::max(double(em(13)), width() - em(13) - wide)), y + em(1.6) + row * em(1.15)),
                   words);
        row = (row + 1) % 2;
    };
    for (const auto& panel : cable_.inner) {
        const double x = xOf(panel.at);
        paintFace(p, {x - em(0.1), y}, em(0.5), true, FaceCondition::NotSeen);
        paintFace(p, {x + em(0.1), y}, em(0.5), false, FaceCondition::NotSeen);
        below(x, text(panel.name), t.ink);
    }
    for (const auto& splice : cable_.splices) {
        const double x = xOf(splice.at), half = em(0.4);
        p.setPen(QPen(t.ink, 1.5));
        p.setBrush(t.card);
        p.drawPolygon(QPolygonF{{x - half, y}, {x, y - half}, {x + half, y}, {x, y + half}});
        below(x, text(splice.name), t.soft);
    }
    if (cable_.length > Metre(0)) {
        p.setPen(t.soft);
        p.drawText(QRectF(0, y - em(1.4), width(), em(1.2)), Qt::AlignHCenter | Qt::AlignVCenter,
                   tr("%1 m, %2").arg(cable_.length.value(), 0, 'f', 0).arg(text(cable_.fibre)));
    }
    for (const End end : {End::A, End::B}) {
        int line = 0;
        for (const QString& words : endWords(end)) {
            const QRectF box(end == End::A ? em(1) : width() - em(13), y + em(0.9) + line * em(1.15), em(12), em(1.2));
            p.setPen(line == 0 ? t.ink : t.soft);
            p.drawText(box, (end == End::A ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter, metrics.elidedText(words, Qt::ElideRight, em(12)));
            ++line;
        }
    }
    p.setPen(odd_.isEmpty() ? t.soft : t.work);
    const QString last = odd_.isEmpty() ? fibreWords() : odd_;
    p.drawText(QRectF(em(1), height() - em(2.7), width() - em(2), em(2.5)), Qt::AlignLeft | Qt::AlignBottom | Qt::TextWordWrap, last);
}

}  // namespace clendo
