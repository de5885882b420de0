#include "report/trace_curve.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "otdr/thin.h"

namespace clendo {

void drawCurve(PdfPage& page, const otdr::Trace& t, const nlohmann::json& trace, const QRectF& box)
{
    const double last = trace["events"].empty() ? double(t.distance.back())
                                                : std::min(double(t.distance.back()), 1.08 * trace["events"].back()["at_m"].get<double>());
    double top = -100, bottom = 0;
    for (std::size_t i = 0; i < t.level.size() && double(t.distance[i]) < last / 1.1; ++i) {
        top = std::max(top, double(t.level[i]));
        if (!t.dark[i]) bottom = std::min(bottom, double(t.level[i]));
    }
    // the fibre matters; reflections may leave the frame
    std::vector<float> levels(t.level.begin(), t.level.begin() + static_cast<std::ptrdiff_t>(t.level.size() / 4 + 1));
    std::nth_element(levels.begin(), levels.begin() + static_cast<std::ptrdiff_t>(levels.size() / 2), levels.end());
    top = std::min(top, double(levels[levels.size() / 2]) + 5);
    bottom = std::max(bottom, top - 14);
    const auto at = [&](double z, double y) {
        return QPointF(box.left() + z / last * box.width(),
                       box.top() + (top - std::clamp(y, bottom, top)) / std::max(0.1, top - bottom) * box.height());
    };
    QPolygonF points;
    for (const auto& column : otdr::thin(t, Metre(0), Metre(last), 1200))
        points << at(column.distance, column.low) << at(column.distance, column.high);
    page.painter.setPen(QPen(print::ink, page.mm(0.15)));
    page.painter.drawPolyline(points);
    page.font(7);
    for (const auto& e : trace["events"]) {
        const double z = e["at_m"].get<double>();
        if (z < 0 || z > last) continue;
        page.painter.setPen(QPen(print::deep, page.mm(0.15), Qt::DashLine));
        page.painter.drawLine(QPointF(at(z, 0).x(), box.top()), QPointF(at(z, 0).x(), box.bottom()));
        page.painter.setPen(print::deep);
        page.painter.drawText(QPointF(at(z, 0).x() + page.mm(0.6), box.bottom() - page.mm(1.2)), QString::number(z, 'f', 0));
    }
}

}  // namespace clendo
