#include "app/polarity/fibre_map_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

constexpr int mostInRow = 24;
constexpr double leastRow = 7, mostRow = 16, titleHeight = 2.6, nameWidth = 5.5, inset = 0.8;  // em

}  // namespace

FibreMapView::FibreMapView(QWidget* parent) : QWidget(parent) { setObjectName(QStringLiteral("fibreMap")); }

void FibreMapView::show(const PolarityMap& map, const PolarityReport& report, int chosen)
{
    map_ = map;
    chosen_ = chosen;
    ways_.clear();
    wrong_.clear();
    reached_.clear();
    for (const auto& way : map.seen) {
        ways_[way.in] = way.out;
        if (way.out) reached_.insert(*way.out);
    }
    for (const auto& fault : report.faults) wrong_.insert(fault.fibres.begin(), fault.fibres.end());
    setAccessibleName(tr("Fibres of cable %1: %2 of %3 proven").arg(QString::fromStdString(map.cable)).arg(report.proven).arg(map.fibres));
    updateGeometry();
    update();
}

int FibreMapView::perRow() const
{
    if (map_.group <= mostInRow) return std::max(1, map_.group);
    return map_.group % 12 == 0 ? 12 : mostInRow;
}

int FibreMapView::rows() const { return (map_.fibres + perRow() - 1) / perRow(); }

QSize FibreMapView::minimumSizeHint() const
{
    return {em(nameWidth + 2 * inset) + perRow() * em(1.6), em(titleHeight + inset) + std::max(1, rows()) * em(leastRow)};
}

double FibreMapView::rowHeight() const
{
    return std::clamp(double(height() - em(titleHeight + inset)) / std::max(1, rows()), double(em(leastRow)), double(em(mostRow)));
}

QPointF FibreMapView::portAt(int fibre, bool atA) const
{
    const int row = (fibre - 1) / perRow(), place = (fibre - 1) % perRow();
    const double step = std::min<double>(em(4.5), double(width() - em(nameWidth + inset)) / perRow());
    const double top = em(titleHeight) + rowHeight() * row;
    return {em(nameWidth) + step * (place + 0.5), atA ? top + em(1.7) : top + rowHeight() - em(2)};
}

int FibreMapView::fibreAt(const QPointF& place) const
{
    const int row = int(std::floor((place.y() - em(titleHeight)) / rowHeight()));
    for (int fibre = std::max(0, row) * perRow() + 1; row >= 0 && fibre <= std::min(map_.fibres, (row + 1) * perRow()); ++fibre)
        if (std::abs(portAt(fibre, true).x() - place.x()) < em(0.8)) return fibre;
    return 0;
}

void FibreMapView::mousePressEvent(QMouseEvent* event)
{
    if (const int fibre = fibreAt(event->position()); fibre > 0) emit fibreChosen(fibre);
}

void FibreMapView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    p.setPen(t.ink);
    p.drawText(QRectF(em(inset), em(0.5), width() - em(inset), em(1.6)), Qt::AlignVCenter,
               ways_.empty() ? tr("Right fibre, cable %1: nothing was tried yet. F: light into this fibre came out where it belongs.")
                                   .arg(QString::fromStdString(map_.cable))
                             : tr("Right fibre, cable %1: where light into each fibre at A came out at B").arg(QString::fromStdString(map_.cable)));
    for (int row = 0; row < rows(); ++row) paintRow(p, row);
    for (const auto& [in, out] : ways_) paintWay(p, in, out);
}

void FibreMapView::paintRow(QPainter& p, int row) const
{
    const Theme& t = theme();
    const int first = row * perRow() + 1, last = std::min(map_.fibres, first + perRow() - 1);
    p.setPen(t.soft);
    for (const bool atA : {true, false})
        p.drawText(QRectF(0, portAt(first, atA).y() - em(0.8), em(nameWidth) - em(0.5), em(1.6)), Qt::AlignVCenter | Qt::AlignRight,
                   atA ? tr("end A") : tr("end B"));
    for (int fibre = first; fibre <= last; ++fibre) {
        const QPointF a = portAt(fibre, true), b = portAt(fibre, false);
        if (fibre == chosen_) {
            p.setPen(Qt::NoPen);
            p.setBrush(t.chosen);
            p.drawRoundedRect(QRectF(a.x() - em(0.8), a.y() - em(1.6), em(1.6), b.y() - a.y() + em(3.2)), 5, 5);
        }
        p.setPen(fibre == chosen_ ? t.ink : t.soft);
        p.drawText(QRectF(a.x() - em(1), a.y() - em(1.6), em(2), em(1.2)), Qt::AlignCenter, QString::number(fibre));
        p.drawText(QRectF(b.x() - em(1), b.y() + em(0.4), em(2), em(1.2)), Qt::AlignCenter, QString::number(fibre));
        p.setPen(QPen(t.ink, 1.4));
        for (const auto& [port, lit] : {std::pair(a, ways_.contains(fibre)), {b, reached_.contains(fibre)}}) {
            p.setBrush(lit ? QBrush(t.ink) : QBrush(Qt::NoBrush));
            p.drawEllipse(port, em(0.28), em(0.28));
        }
    }
}

void FibreMapView::paintWay(QPainter& p, int in, const std::optional<int>& out) const
{
    const Theme& t = theme();
    const bool wrong = wrong_.contains(in);
    const QPointF a = portAt(in, true);
    p.setPen(QPen(wrong ? t.damaged : t.fit, wrong ? 3 : 2, wrong ? Qt::DashLine : Qt::SolidLine));
    if (out && (*out - 1) / perRow() == (in - 1) / perRow()) {
        p.drawLine(a + QPointF(0, em(0.35)), portAt(*out, false) - QPointF(0, em(0.35)));
        return;
    }
    const QPointF end = a + QPointF(0, em(1.3));
    p.drawLine(a + QPointF(0, em(0.35)), end);
    p.drawText(QRectF(end.x() - em(2), end.y(), em(4), em(1.2)), Qt::AlignCenter, out ? tr("to %1").arg(*out) : tr("dark"));
}

}  // namespace clendo
