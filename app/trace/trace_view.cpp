#include "app/trace/trace_view.h"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QMimeData>
#include <QVBoxLayout>
#include <algorithm>

#include "app/trace/trace_drawing.h"
#include "app/widgets/save_file.h"
#include "app/widgets/theme.h"
#include "otdr/trace_export.h"
#include "record/rules/plan_match.h"

namespace clendo {
namespace {

QString number(const std::optional<Decibel>& value, int digits = 2)
{
    return value ? QString::number(value->value(), 'f', digits) : QStringLiteral("–");
}
QString metres(const std::optional<Metre>& value) { return value ? QString::number(value->value(), 'f', 0) : QStringLiteral("–"); }

}  // namespace

TraceView::TraceView(QWidget* parent)
    : QWidget(parent),
      title_(new QLabel(this)),
      empty_(new QLabel(this)),
      pieces_(new QTableWidget(this)),
      shotWith_(new QWidget(this)),
      launch_(new CordBox(tr("not said"), tr("%1, end %2 on the OTDR"), shotWith_)),
      tail_(new CordBox(tr("not said"), tr("%1, end %2 open"), shotWith_))
{
    setObjectName(QStringLiteral("traceView"));
    setAcceptDrops(true);
    title_->setObjectName(QStringLiteral("traceTitle"));
    title_->setWordWrap(true);
    empty_->setAlignment(Qt::AlignCenter);
    empty_->setWordWrap(true);
    if (const auto plot = makeTracePlot(this)) {
        plot_ = *plot;
        plot_->setObjectName(QStringLiteral("tracePlot"));
        plot_->setMinimumHeight(em(12));
        plot_->ranged = [this](double from, double to) { see(from, to); };
    }
    pieces_->setObjectName(QStringLiteral("pieces"));
    pieces_->setColumnCount(7);
    pieces_->setHorizontalHeaderLabels(
        {tr("The line"), tr("Plan, m from A"), tr("Found"), tr("Loss, dB"), tr("Allowed, dB"), tr("Reflectance, dB"), tr("Both ways, dB")});
    pieces_->verticalHeader()->hide();
    pieces_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    pieces_->setSelectionMode(QAbstractItemView::NoSelection);
    pieces_->setFocusPolicy(Qt::NoFocus);
    pieces_->setShowGrid(false);
    pieces_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    pieces_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    pieces_->verticalHeader()->setDefaultSectionSize(em(1.6));
    auto* with = new QHBoxLayout(shotWith_);
    with->setContentsMargins(0, 0, 0, 0);
    with->addWidget(new QLabel(tr("The next shot: launch cord"), shotWith_));
    with->addWidget(launch_, 1);
    with->addWidget(new QLabel(tr("tail cord"), shotWith_));
    with->addWidget(tail_, 1);
    launch_->setObjectName(QStringLiteral("shotLaunch"));
    launch_->setAccessibleName(tr("Launch cord of the next shot"));
    tail_->setObjectName(QStringLiteral("shotTail"));
    tail_->setAccessibleName(tr("Tail cord of the next shot"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 10);
    layout->addWidget(title_);
    layout->addWidget(shotWith_);
    layout->addWidget(empty_, 1);
    if (plot_) layout->addWidget(plot_, 3);
    layout->addWidget(pieces_, 2);
}

void TraceView::show(JobSession& session, const Link* link)
{
    session_ = &session;
    if (!link) return;
    const auto& traces = session.state().state(link->id).traces;
    if (link_ != link->id || shots_ != traces.size()) {
        shot_ = traces.empty() ? 0 : traces.size() - 1;
        range_.reset();
    }
    launch_->offer(session.state());
    tail_->offer(session.state());
    shotWith_->setVisible(launch_->count() > 1);
    link_ = link->id;
    shots_ = traces.size();
    const bool any = !traces.empty();
    if (plot_) plot_->setVisible(any);
    pieces_->setVisible(any);
    empty_->setVisible(!any);
    if (!any) {
        title_->setText(tr("<b>Trace</b>, fibre %1").arg(link->fibre));
        empty_->setText(tr("No trace of this fibre yet.\n\nO opens a .sor file that the OTDR saved; you can also drop it here.\nShoot through a "
                           "launch cord of %1 m and a tail cord of %2 m, or the end connections cannot be measured.")
                            .arg(session.state().plan->job.launchCord.value(), 0, 'f', 0)
                            .arg(session.state().plan->job.tailCord.value(), 0, 'f', 0));
        return;
    }
    const TraceShot& shot = traces[shot_].what;
    const bool other = otherWay(session.state().state(link->id), shot);
    title_->setText(tr("<b>Trace</b>, fibre %1 · %2 nm, %3 · %4 · shot %5 of %6 (D shows the other)%7")
                        .arg(link->fibre)
                        .arg(shot.wavelength.value(), 0, 'f', 0)
                        .arg(shot.direction == Direction::AtoB ? tr("A to B") : tr("B to A"), QString::fromStdString(shot.traceName))
                        .arg(shot_ + 1)
                        .arg(shots_)
                        .arg(other ? tr(" · grey: the shot from the other end") : QString()));
    plot();
    table(shot, *link);
}

void TraceView::nextShot()
{
    if (shots_ == 0 || !session_) return;
    shot_ = (shot_ + 1) % shots_;
    if (const Link* link = session_->state().link(link_)) show(*session_, link);
}

void TraceView::plot()
{
    const Link* link = session_ ? session_->state().link(link_) : nullptr;
    if (!plot_ || !link || shots_ == 0) return;
    const LinkState& state = session_->state().state(link_);
    const TraceShot& shot = state.traces[shot_].what;
    const auto traceOf = [&](const TraceShot& of) { return session_->evidence().trace(of.trace, of.traceName); };
    const auto trace = traceOf(shot);
    const TraceShot* back = otherWay(state, shot);
    const auto other = back ? traceOf(*back) : decltype(trace)();
    drawn_ = {};
    if (trace && *trace)
        drawn_ = drawTrace({**trace, shot}, *link, other && *other ? std::optional(DrawnShot{**other, *back}) : std::nullopt, range_);
    if (!range_ && drawn_.last > drawn_.first) whole_ = {drawn_.first, drawn_.last};
    const Theme& t = theme();
    plot_->show(drawn_, {t.card, t.rule, t.soft, t.ink, t.chosen.darker(t.dark ? 80 : 115), t.fit, t.work, t.soft, double(em(0.45))},
                tr("metres of fibre from %1").arg(QString::fromStdString(link->cable->placeA)), tr("dB"));
}

/// Somebody zoomed or dragged: never smaller than a few metres, never beyond the line.
void TraceView::see(double from, double to)
{
    if (!whole_) return;
    constexpr double closest = 5;  // m
    const double wide = std::clamp(to - from, closest, whole_->second - whole_->first);
    const double begin = std::clamp((from + to - wide) / 2, whole_->first, whole_->second - wide);
    range_ = SeenRange{begin, begin + wide};
    if (wide >= whole_->second - whole_->first) range_.reset();
    plot();
}

void TraceView::zoomBy(double factor)
{
    if (!whole_) return;
    const auto [from, to] = range_.value_or(*whole_);
    const double middle = (from + to) / 2, half = (to - from) / 2 / factor;
    see(middle - half, middle + half);
}

void TraceView::panBy(double share)
{
    if (!range_) return;
    const double by = share * (range_->second - range_->first);
    see(range_->first + by, range_->second + by);
}

void TraceView::showWhole()
{
    range_.reset();
    plot();
}

void TraceView::toJoint(bool further)
{
    if (!whole_) return;
    constexpr double part = 0.08;  // of the line, when all of it was seen
    const auto [from, to] = range_.value_or(*whole_);
    const double middle = range_ ? (from + to) / 2 : further ? whole_->first : whole_->second;
    const double half = (range_ ? to - from : part * (to - from)) / 2;
    std::optional<double> next;
    for (const auto& mark : drawn_.marks) {
        const double off = further ? mark.at - middle : middle - mark.at;
        if (off > 0.5 && (!next || off < std::abs(*next - middle))) next = mark.at;
    }
    if (next) see(*next - half, *next + half);
}

void TraceView::askForExport()
{
    if (!session_ || shots_ == 0) return;
    const TraceShot shot = session_->state().state(link_).traces[shot_].what;
    const auto trace = session_->evidence().trace(shot.trace, shot.traceName);
    if (!trace || !*trace) return emit said(tr("The trace is not read yet."), true);
    const QString points = tr("Points (*.csv)"), events = tr("What was found (*.csv)"), all = tr("Everything (*.json)");
    QString chosen = events;
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Save the trace"), QFileInfo(QString::fromStdString(shot.traceName)).completeBaseName(),
                                     events + ";;" + points + ";;" + all, &chosen);
    if (path.isEmpty()) return;
    const bool json = chosen == all || path.endsWith(QLatin1String(".json"));
    saveFile(
        this, path,
        [shot, trace = *trace, json, onlyPoints = chosen == points] {
            return json ? otdr::everythingJson(*trace, shot.found) : onlyPoints ? otdr::pointsCsv(*trace) : otdr::eventsCsv(shot.found);
        },
        [this, path](const Result<void>& saved) {
            emit said(saved ? tr("Saved as %1.").arg(path) : QString::fromStdString(saved.error().message), !saved);
        });
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
