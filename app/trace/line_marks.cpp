#include "app/trace/line_marks.h"

#include <QCoreApplication>
#include <algorithm>
#include <cmath>

namespace clendo {
namespace {

QString tr(const char* text) { return QCoreApplication::translate("clendo::LineMarks", text); }

QString number(double value, int digits) { return QString::number(value, 'f', digits); }

}  // namespace

void LineMarks::next(SeenRange seen)
{
    const double wide = seen.second - seen.first, middle = (seen.first + seen.second) / 2;
    tool_ = tool_ == Tool::None ? Tool::Two : tool_ == Tool::Two ? Tool::Five : Tool::None;
    chosen_ = 0;
    constexpr double share = 0.2;
    if (tool_ == Tool::Two) at_ = {middle - share * wide, middle + share * wide};
    if (tool_ == Tool::Five) placeFive(middle);
}

void LineMarks::measure(std::shared_ptr<const otdr::Trace> trace, const TraceShot& shot, const Link& link)
{
    if (trace != trace_) signal_.reset();
    trace_ = std::move(trace);
    places_.emplace(shot, link);
    events_ = shot.found.events;
    constexpr double sameFibre = 0.05;
    const double share = shot.found.span ? link.cable->length / shot.found.span->length() : 0;
    cablePerFibre_ = std::abs(share - 1) < sameFibre ? share : 0;
    if (trace_ && !signal_ && tool_ != Tool::None) signal_ = std::make_shared<const otdr::Signal>(*trace_);
}

/// About the joint nearest to a place of the line.
void LineMarks::placeFive(double at)
{
    chosen_ = 2;
    at_ = {at, at, at, at, at};
    if (!trace_ || !places_) return;
    std::vector<otdr::Event> joints;
    for (const auto& e : events_)
        if (e.kind != otdr::EventKind::Launch && e.kind != otdr::EventKind::End) joints.push_back(e);
    constexpr Metre anywhere{1e9};
    const Metre joint = otdr::snapped(joints, Metre(places_->onTrace(at)), anywhere);
    const auto marks = otdr::marksFor(*trace_, events_, joint);
    const double far = 10 * trace_->pulseLength().value();
    const otdr::FiveMarks five =
        marks.value_or(otdr::FiveMarks{joint - Metre(2 * far), joint - Metre(far), joint, joint + Metre(far), joint + Metre(2 * far)});
    at_.clear();
    for (const Metre m : {five.beforeFrom, five.beforeTo, five.at, five.behindFrom, five.behindTo}) at_ << (*places_)(m.value());
}

void LineMarks::move(int mark, double to, double reach)
{
    if (tool_ == Tool::None || mark < 0 || mark >= at_.size()) return;
    chosen_ = mark;
    const bool snaps = (tool_ == Tool::Two || mark == 2) && places_;
    at_[mark] = snaps ? (*places_)(otdr::snapped(events_, Metre(places_->onTrace(to)), Metre(reach)).value()) : to;
}

void LineMarks::nudge(double by)
{
    if (tool_ != Tool::None) at_[chosen_] += by;
}

void LineMarks::choose(bool further)
{
    if (tool_ == Tool::None) return;
    // by their places on the screen
    int best = -1;
    for (int i = 0; i < at_.size(); ++i) {
        const bool beyond = further ? at_[i] > at_[chosen_] : at_[i] < at_[chosen_];
        if (beyond && (best < 0 || (further ? at_[i] < at_[best] : at_[i] > at_[best]))) best = i;
    }
    if (best >= 0) chosen_ = best;
}

QVector<TraceDrawing::Cursor> LineMarks::cursors() const
{
    QVector<TraceDrawing::Cursor> out;
    if (tool_ == Tool::None) return out;
    const QStringList names = tool_ == Tool::Two ? QStringList{tr("1"), tr("2")} : QStringList{tr("1"), tr("2"), tr("joint"), tr("3"), tr("4")};
    for (int i = 0; i < at_.size(); ++i) out << TraceDrawing::Cursor{at_[i], names[i], i == chosen_};
    return out;
}

QString LineMarks::words() const
{
    if (tool_ == Tool::None) return {};
    if (!trace_ || !signal_ || !places_) return tr("The trace is not read yet.");
    return tool_ == Tool::Two ? ofTwo() : ofFive();
}

QString LineMarks::ofTwo() const
{
    const double apart = std::abs(at_[1] - at_[0]);
    QString out = tr("<b>1</b> at %1 m, <b>2</b> at %2 m; %3 m of fibre apart").arg(number(at_[0], 1), number(at_[1], 1), number(apart, 1));
    if (cablePerFibre_ > 0) out += tr(", %1 m of cable by the plan's length").arg(number(apart * cablePerFibre_, 1));
    const auto [from, to] = std::minmax({onTrace(0), onTrace(1)});
    const auto points = otdr::twoPointLoss(*signal_, from, to);
    out += points ? tr(" · two points: %1 dB").arg(number(points->value(), 3)) : tr(" · no light at one of them");
    const bool joints = std::any_of(events_.begin(), events_.end(), [&](const auto& e) { return e.at > from && e.at < to; });
    if (joints) return out + tr(" · a joint lies between them: no line is fitted through it");
    if (const auto line = otdr::leastSquaresLoss(*signal_, from, to))
        out +=
            tr(" · least squares: %1 dB, %2 ± %3 dB/km")
                .arg(number(line->loss.value(), 3), number(line->attenuation.value(), 3), number(std::max(0.001, 2 * line->uncertainty.value()), 3));
    return out;
}

QString LineMarks::ofFive() const
{
    QVector<Metre> on;
    for (int i = 0; i < at_.size(); ++i) on << onTrace(i);
    std::sort(on.begin(), on.end());
    const auto loss = otdr::fiveMarkLoss(*signal_, {on[0], on[1], on[2], on[3], on[4]});
    if (!loss) return tr("Joint at %1 m: too little clean fibre between the marks for a line on both sides.").arg(number(at_[2], 1));
    return tr("Joint at %1 m: the lines before (1 to 2) and behind it (3 to 4) differ by <b>%2 ± %3 dB</b>, five marks.")
        .arg(number(at_[2], 1), number(loss->loss.value(), 3), number(std::max(0.001, 2 * loss->uncertainty.value()), 3));
}

}  // namespace clendo
