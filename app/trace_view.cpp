#include "app/trace_view.h"

#include <qcustomplot.h>

#include <QDragEnterEvent>
#include <QHeaderView>
#include <QMimeData>
#include <QVBoxLayout>

#include "app/theme.h"
#include "otdr/sor_reader.h"
#include "otdr/thin.h"
#include "record/plan_match.h"

namespace clendo {
namespace {

QString number(const std::optional<Decibel>& value, int digits = 2)
{
    return value ? QString::number(value->value(), 'f', digits) : QStringLiteral("–");
}
QString metres(const std::optional<Metre>& value) { return value ? QString::number(value->value(), 'f', 0) : QStringLiteral("–"); }

}  // namespace

TraceView::TraceView(QWidget* parent)
    : QWidget(parent), title_(new QLabel(this)), empty_(new QLabel(this)), plot_(new QCustomPlot(this)), pieces_(new QTableWidget(this))
{
    setObjectName(QStringLiteral("traceView"));
    setAcceptDrops(true);
    title_->setObjectName(QStringLiteral("traceTitle"));
    title_->setWordWrap(true);
    empty_->setAlignment(Qt::AlignCenter);
    empty_->setWordWrap(true);
    plot_->setObjectName(QStringLiteral("tracePlot"));
    plot_->addGraph();
    plot_->addGraph();
    plot_->setMinimumHeight(em(12));
    pieces_->setObjectName(QStringLiteral("pieces"));
    pieces_->setColumnCount(7);
    pieces_->setHorizontalHeaderLabels(
        {tr("The line, piece by piece"), tr("Planned, m"), tr("Found, m"), tr("Loss, dB"), tr("Limit"), tr("Reflects"), tr("Both ways")});
    pieces_->verticalHeader()->hide();
    pieces_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    pieces_->setSelectionMode(QAbstractItemView::NoSelection);
    pieces_->setFocusPolicy(Qt::NoFocus);
    pieces_->setShowGrid(false);
    pieces_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    pieces_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    pieces_->verticalHeader()->setDefaultSectionSize(em(1.6));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 10);
    layout->addWidget(title_);
    layout->addWidget(empty_, 1);
    layout->addWidget(plot_, 3);
    layout->addWidget(pieces_, 2);
}

void TraceView::show(JobSession& session, const Link* link)
{
    session_ = &session;
    if (!link) return;
    const auto& traces = session.state().state(link->id).traces;
    if (link_ != link->id || shots_ != traces.size()) shot_ = traces.empty() ? 0 : traces.size() - 1;
    link_ = link->id;
    shots_ = traces.size();
    const bool any = !traces.empty();
    plot_->setVisible(any);
    pieces_->setVisible(any);
    empty_->setVisible(!any);
    if (!any) {
        title_->setText(tr("<b>Trace</b>, fibre %1").arg(link->fibre));
        empty_->setText(tr("No trace of this fibre yet.\n\nO opens a .sor file that the OTDR saved; you can also drop it here.\nShoot through a "
                           "launch cord of %1 m and a tail cord of %2 m, or the end connections cannot be measured.")
                            .arg(session.state().job.launchCord.value(), 0, 'f', 0)
                            .arg(session.state().job.tailCord.value(), 0, 'f', 0));
        return;
    }
    const TraceShot& shot = traces[shot_];
    title_->setText(tr("<b>Trace</b>, fibre %1 · %2 nm, %3 · %4 · shot %5 of %6 (D shows the other)")
                        .arg(link->fibre)
                        .arg(shot.wavelength.value(), 0, 'f', 0)
                        .arg(shot.direction == Direction::AtoB ? tr("A to B") : tr("B to A"), QString::fromStdString(shot.traceName))
                        .arg(shot_ + 1)
                        .arg(shots_));
    plot(shot, *link);
    table(shot, *link);
}

void TraceView::nextShot()
{
    if (shots_ == 0 || !session_) return;
    shot_ = (shot_ + 1) % shots_;
    if (const Link* link = session_->state().link(link_)) show(*session_, link);
}

void TraceView::plot(const TraceShot& shot, const Link& link)
{
    const Theme& t = theme();
    plot_->setBackground(t.card);
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
        axis->setBasePen(QPen(t.rule));
        axis->setTickPen(QPen(t.rule));
        axis->setSubTickPen(QPen(t.rule));
        axis->setTickLabelColor(t.soft);
        axis->setLabelColor(t.soft);
        axis->setTickLabelFont(font());
        axis->setLabelFont(font());
        axis->grid()->setPen(QPen(t.rule, 1, Qt::DotLine));
    }
    plot_->xAxis->setLabel(tr("metres from the front panel"));
    plot_->yAxis->setLabel(tr("dB"));
    plot_->clearItems();
    const auto bytes = session_->store().evidence(shot.trace);
    const auto trace = bytes.and_then([&](const std::string& b) { return otdr::readSor(b, shot.traceName); });
    if (!trace) {
        plot_->graph(0)->data()->clear();
        plot_->graph(1)->data()->clear();
        plot_->replot();
        return;
    }
    const auto& events = shot.found.events;
    const double last =
        events.empty() ? double(trace->distance.back()) : std::min(double(trace->distance.back()), events.back().at.value() * 1.06 + 20);
    QVector<double> x, y;
    double top = -100, bottom = 0;
    for (const auto& column : otdr::thin(*trace, Metre(0), Metre(last), 1600)) {
        x << column.distance << column.distance;
        y << column.low << column.high;
        top = std::max(top, column.high);
    }
    // the plan: from where the fibre's light begins, the planned attenuation and joints
    const double first = shot.direction == Direction::AtoB ? shot.cords.launch.value() : shot.cords.tail.value();
    QVector<double> px, py;
    if (shot.found.span && session_->state().limits) {
        const auto rows = matchPlan(session_->state(), link, shot);
        double level = 0, at = first;
        const auto near = otdr::thin(*trace, Metre(first * 0.6), Metre(first * 0.95), 40);
        for (const auto& c : near) level += c.low / double(near.size());
        const double alpha = shot.found.span->attenuation ? shot.found.span->attenuation->value() : 0.35;
        level -= alpha * first * 0.22 / 1000;
        px << first * 0.6 << first;
        py << level + alpha * first * 0.2 / 1000 << level;
        std::vector<std::pair<double, double>> joints{{first, 0.3}};
        for (const auto& s : link.cable->splices)
            joints.emplace_back(first + (shot.direction == Direction::AtoB ? s.at.value() : (link.cable->length - s.at).value()), 0.1);
        joints.emplace_back(first + link.cable->length.value(), 0.3);
        std::sort(joints.begin(), joints.end());
        for (const auto& [z, loss] : joints) {
            level -= alpha * (z - at) / 1000;
            px << z;
            py << level;
            level -= loss;
            px << z;
            py << level;
            at = z;
        }
        bottom = level - 3;
        top = std::min(top, py.front() + 6);  // the fibre matters; tall reflections may leave the frame
    } else {
        bottom = *std::min_element(y.begin(), y.end());
    }
    plot_->graph(0)->setPen(QPen(t.chosen.darker(t.dark ? 80 : 115), em(0.45), Qt::SolidLine, Qt::FlatCap));
    plot_->graph(0)->setData(px, py, true);
    plot_->graph(1)->setPen(QPen(t.ink, 1));
    plot_->graph(1)->setData(x, y, true);
    plot_->xAxis->setRange(0, last);
    plot_->yAxis->setRange(bottom, top + 1);
    for (const auto& e : events) {
        auto* mark = new QCPItemStraightLine(plot_);
        mark->point1->setCoords(e.at.value(), 0);
        mark->point2->setCoords(e.at.value(), 1);
        mark->setPen(QPen(e.kind == otdr::EventKind::Loss || e.kind == otdr::EventKind::Gain ? t.work : t.fit, 1, Qt::DashLine));
    }
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void TraceView::table(const TraceShot& shot, const Link& link)
{
    const auto rows = matchPlan(session_->state(), link, shot);
    pieces_->setRowCount(static_cast<int>(rows.size()));
    for (int r = 0; r < pieces_->rowCount(); ++r) {
        const LineRow& row = rows[static_cast<std::size_t>(r)];
        int column = 0;
        for (const QString& text :
             {QString::fromStdString(row.name), metres(row.planned), row.planned && !row.found ? tr("not seen") : metres(row.found), number(row.loss),
              number(row.limit), number(row.reflectance, 1), number(row.bothWays)}) {
            auto* item = new QTableWidgetItem(text);
            if (column > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            if (row.overLimit() || !row.planned) {
                item->setForeground(theme().work);
                QFont bold = font();
                bold.setBold(true);
                item->setFont(bold);
            }
            pieces_->setItem(r, column++, item);
        }
    }
}

void TraceView::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void TraceView::dropEvent(QDropEvent* event)
{
    const auto urls = event->mimeData()->urls();
    for (const QUrl& url : urls)
        if (url.isLocalFile()) emit dropped(url.toLocalFile());
    event->acceptProposedAction();
}

}  // namespace clendo
