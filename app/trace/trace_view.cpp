#include "app/trace/trace_view.h"

#include <QHBoxLayout>
#include <QPointer>
#include <QVBoxLayout>
#include <algorithm>

#include "app/trace/line_table.h"
#include "app/trace/overview_strip.h"
#include "app/trace/save_trace.h"
#include "app/trace/trace_drawing.h"
#include "app/widgets/theme.h"
#include "record/rules/plan_match.h"
#include "record/rules/reels.h"

namespace clendo {

TraceView::TraceView(QWidget* parent)
    : QWidget(parent),
      title_(new QLabel(this)),
      empty_(new QLabel(this)),
      overview_(new OverviewStrip(this)),
      measured_(new QLabel(this)),
      pieces_(new LineTable(this)),
      shotWith_(new QWidget(this)),
      launch_(new CordBox(tr("not said"), tr("%1, end %2 on the OTDR"), shotWith_)),
      tail_(new CordBox(tr("not said"), tr("%1, end %2 open"), shotWith_))
{
    setObjectName(QStringLiteral("traceView"));
    title_->setObjectName(QStringLiteral("traceTitle"));
    title_->setWordWrap(true);
    empty_->setAlignment(Qt::AlignCenter);
    empty_->setWordWrap(true);
    if (const auto made = makeTracePlot(this)) {
        plot_ = *made;
        plot_->setObjectName(QStringLiteral("tracePlot"));
        plot_->setMinimumHeight(em(12));
        plot_->ranged = [this](double from, double to) { see(from, to); };
        plot_->moved = [this](int mark, double to) {
            constexpr double snaps = 0.008;  // of what is seen
            const auto [first, last] = range_.value_or(whole_.value_or(SeenRange{0, 1}));
            marks_.move(mark, to, snaps * (last - first));
            plot();
        };
    }
    connect(overview_, &OverviewStrip::wanted, this, [this](double middle) {
        const auto [from, to] = range_.value_or(whole_.value_or(SeenRange{0, 1}));
        see(middle - (to - from) / 2, middle + (to - from) / 2);
    });
    measured_->setObjectName(QStringLiteral("measuredByMarks"));
    measured_->setWordWrap(true);
    measured_->hide();
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
    layout->addWidget(overview_);
    layout->addWidget(measured_);
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
        marks_.clear();
    }
    launch_->offer(session.state());
    tail_->offer(session.state());
    shotWith_->setVisible(launch_->count() > 1);
    link_ = link->id;
    shots_ = traces.size();
    const bool any = !traces.empty();
    if (plot_) plot_->setVisible(any);
    overview_->setVisible(any && plot_);
    if (!any) measured_->hide();
    pieces_->setVisible(any);
    empty_->setVisible(!any);
    if (!any) {
        title_->setText(tr("<b>Trace</b>, fibre %1").arg(link->fibre));
        empty_->setText(tr("No trace of this fibre yet.\n\nO opens a .sor file that the OTDR saved; you can also drop it here. Shift+A takes a "
                           "folder of them in.\nShoot through a "
                           "launch cord of %1 m and a tail cord of %2 m, or the end connections cannot be measured.")
                            .arg(session.state().plan->job.launchCord.value(), 0, 'f', 0)
                            .arg(session.state().plan->job.tailCord.value(), 0, 'f', 0));
        return;
    }
    entitle(*link);
    plot();
    pieces_->show(session.state(), *link, traces[shot_].what);
}

void TraceView::entitle(const Link& link)
{
    const TraceShot& shot = session_->state().state(link_).traces[shot_].what;
    const auto other = beneath(shot, link);
    QString words;
    switch (beneath_) {
        case Beneath::OtherEnd: words = other ? tr(" · grey: the shot from the other end") : QString(); break;
        case Beneath::First:
            words = other ? tr(" · grey: the first shot from this end; right: what was lost since") : tr(" · this is the first shot from this end");
            break;
        case Beneath::Reel:
            words = other ? tr(" · grey: on the reel, %1, before it was laid; right: what its fibre lost since")
                                .arg(QString::fromStdString(other->traceName))
                          : QString();
            break;
    }
    title_->setText(tr("<b>Trace</b>, fibre %1 · %2 nm, %3 · %4 · shot %5 of %6 (D shows the other)%7")
                        .arg(link.fibre)
                        .arg(shot.wavelength.value(), 0, 'f', 0)
                        .arg(shot.direction == Direction::AtoB ? tr("A to B") : tr("B to A"), QString::fromStdString(shot.traceName))
                        .arg(shot_ + 1)
                        .arg(shots_)
                        .arg(words));
}

void TraceView::nextShot()
{
    if (shots_ == 0 || !session_) return;
    shot_ = (shot_ + 1) % shots_;
    if (const Link* link = session_->state().link(link_)) show(*session_, link);
}

const TraceShot* TraceView::shown() const { return session_ && shots_ > 0 ? &session_->state().state(link_).traces[shot_].what : nullptr; }

std::shared_ptr<const otdr::Trace> TraceView::traceOf(const TraceShot& shot) const
{
    const auto trace = session_->evidence().trace(shot.trace, shot.traceName);
    return trace ? *trace : nullptr;
}

void TraceView::plot()
{
    const Link* link = session_ ? session_->state().link(link_) : nullptr;
    const TraceShot* shot = shown();
    if (!plot_ || !link || !shot) return;
    const auto under = beneath(*shot, *link);
    const auto trace = traceOf(*shot), other = under ? traceOf(*under) : nullptr;
    drawn_ = {};
    if (trace) {
        drawn_ = drawTrace({*trace, *shot}, *link, other ? std::optional(DrawnShot{*other, *under}) : std::nullopt, range_);
        if (beneath_ != Beneath::OtherEnd && other) addDifference(drawn_, {*trace, *shot}, {*other, *under}, *link, beneath_ == Beneath::Reel);
        marks_.measure(trace, *shot, *link);
    }
    if (!range_ && drawn_.last > drawn_.first) {
        whole_ = {drawn_.first, drawn_.last};
        overview_->show(drawn_, *whole_);
    } else if (range_) {
        overview_->see(*range_);
    }
    drawn_.cursors = marks_.cursors();
    measured_->setText(marks_.words());
    measured_->setVisible(!measured_->text().isEmpty());
    const Theme& t = theme();
    QColor band = t.work;
    constexpr float faint = 0.18F;
    band.setAlphaF(faint);
    plot_->show(drawn_,
                {t.card, t.rule, t.soft, t.ink, t.chosen.darker(t.dark ? 80 : 115), t.fit, t.work, t.soft, t.damaged, t.fit, band, double(em(0.45))},
                {tr("metres of fibre from %1").arg(QString::fromStdString(link->cable->placeA)), tr("dB"),
                 beneath_ == Beneath::Reel ? tr("dB more lost than on the reel") : tr("dB more lost since the first shot")});
}

void TraceView::nextMarks()
{
    if (!whole_) return;
    marks_.next(range_.value_or(*whole_));
    plot();
}

void TraceView::nudgeMark(int by)
{
    if (!whole_) return;
    constexpr double pixels = 600;  // about as wide as a plot is
    const auto [from, to] = range_.value_or(*whole_);
    marks_.nudge(by * (to - from) / pixels);
    plot();
}

void TraceView::chooseMark(bool further)
{
    marks_.choose(further);
    plot();
}

std::optional<TraceShot> TraceView::beneath(const TraceShot& shot, const Link& link) const
{
    const LinkState& state = session_->state().state(link_);
    switch (beneath_) {
        case Beneath::OtherEnd: return optionalOf(otherWay(state, shot));
        case Beneath::Reel: return asOnTheReel(session_->state(), link, shot);
        case Beneath::First: break;
    }
    const auto* first = firstShot(state, shot);
    return first ? std::optional(first->what) : std::nullopt;
}

void TraceView::nextThen()
{
    const Link* link = session_ ? session_->state().link(link_) : nullptr;
    if (!link || shots_ == 0) return;
    switch (beneath_) {
        case Beneath::OtherEnd: beneath_ = Beneath::First; break;
        case Beneath::First: beneath_ = asOnTheReel(session_->state(), *link, *shown()) ? Beneath::Reel : Beneath::OtherEnd; break;
        case Beneath::Reel: beneath_ = Beneath::OtherEnd; break;
    }
    entitle(*link);
    plot();
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
    const TraceShot* shot = shown();
    if (!shot) return;
    const auto trace = traceOf(*shot);
    if (!trace) return emit said(tr("The trace is not read yet."), true);
    askToSaveTrace(this, *session_, *shot, trace, [view = QPointer<TraceView>(this)](const QString& sentence, bool trouble) {
        if (view) emit view->said(sentence, trouble);
    });
}

}  // namespace clendo
