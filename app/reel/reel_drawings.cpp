#include "app/reel/reel_drawings.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "record/advice/reel_advice.h"

namespace clendo {
namespace {

QFont boldOf(const QWidget& widget)
{
    QFont bold = widget.font();
    bold.setBold(true);
    return bold;
}

/// The number of bad fibres nearest to a share; one at least, where any are meant.
int badOf(const reel::SamplingPlan& plan, int percent)
{
    return percent == 0 ? 0 : std::max(1, static_cast<int>(std::lround(plan.lot * percent / 100.0)));
}

QString metres(double m) { return QObject::tr("%1 m").arg(m, 0, 'f', 1); }

}  // namespace

ReelShelf::ReelShelf(QWidget* parent) : QWidget(parent) { setObjectName(QStringLiteral("reelShelf")); }

void ReelShelf::show(const JobState& state, const std::string& chosen)
{
    cards_.clear();
    chosen_ = QString::fromStdString(chosen);
    QStringList words;
    for (const auto& [name, reel] : state.reels) {
        const ReelStanding s = standingOf(state, name);
        QString says = reel.delivered && reel.delivered->what.delivery.ordered
                           ? tr("%1 × %2 m").arg(reel.delivered->what.delivery.fibres).arg(reel.delivered->what.delivery.ordered->value(), 0, 'f', 0)
                           : tr("not written down");
        cards_.push_back({QString::fromStdString(name), says, s.verdict, s.decided()});
        words << cards_.back().name + QStringLiteral(": ") + text(reel::words(s.verdict));
    }
    setAccessibleName(words.join(QStringLiteral("; ")));
    fit();
    update();
}

int ReelShelf::columns() const { return std::max(1, width() / em(9.5)); }

QRectF ReelShelf::boxOf(std::size_t card) const
{
    const int n = columns();
    const double wide = double(width()) / n, high = em(3.7);
    const auto row = static_cast<int>(card) / n, column = static_cast<int>(card) % n;
    return {column * wide, row * high, wide - 6, high - 6};
}

void ReelShelf::fit()
{
    setFixedHeight(cards_.empty() ? 0 : static_cast<int>(boxOf(cards_.size() - 1).bottom()) + 4);
    setVisible(!cards_.empty());
}

void ReelShelf::resizeEvent(QResizeEvent*) { fit(); }

void ReelShelf::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; i < cards_.size(); ++i) {
        const Card& card = cards_[i];
        const QRectF box = boxOf(i).adjusted(1, 1, -1, -1);
        const bool here = card.name == chosen_;
        p.setPen(QPen(here ? theme().fit : theme().rule, here ? 2 : 1));
        p.setBrush(here ? theme().chosen : theme().card);
        p.drawRoundedRect(box, 5, 5);
        const double mark = em(1.1);
        paintTone(p, {box.left() + 8, box.top() + em(0.35), mark, mark}, toneOf(card.verdict));
        p.setFont(boldOf(*this));
        p.setPen(theme().ink);
        const QRectF head(box.left() + 14 + mark, box.top() + em(0.2), box.width() - 20 - mark, em(1.4));
        p.drawText(head, Qt::AlignVCenter, p.fontMetrics().elidedText(card.name, Qt::ElideRight, static_cast<int>(head.width())));
        const int before = p.fontMetrics().horizontalAdvance(card.name) + 8;
        p.setFont(font());
        p.setPen(theme().soft);
        p.drawText(head.adjusted(before, 0, 0, 0), Qt::AlignVCenter | Qt::AlignRight, card.says);
        p.setPen(theme().of(toneOf(card.verdict)));
        const QString verdict = card.decided                                   ? text(reel::decided(card.verdict))
                                : card.verdict == reel::ReelVerdict::NotJudged ? tr("not judged yet")
                                                                               : tr("proposed: %1").arg(text(reel::words(card.verdict)));
        const QRectF foot(box.left() + 8, box.top() + em(1.65), box.width() - 14, em(1.4));
        p.drawText(foot, Qt::AlignVCenter, p.fontMetrics().elidedText(verdict, Qt::ElideRight, static_cast<int>(foot.width())));
    }
}

void ReelShelf::mousePressEvent(QMouseEvent* event)
{
    for (std::size_t i = 0; i < cards_.size(); ++i)
        if (boxOf(i).contains(event->position())) return emit picked(cards_[i].name);
}

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

FibreField::FibreField(QWidget* parent) : QWidget(parent) { setObjectName(QStringLiteral("reelFibres")); }

void FibreField::show(const ReelStanding& s)
{
    const int count = s.filed && s.filed->delivered ? s.filed->delivered->what.delivery.fibres : 0;
    fibres_.assign(static_cast<std::size_t>(count), Fibre::NotAsked);
    says_.assign(fibres_.size(), {});
    strips_.clear();
    const auto set = [&](const std::vector<int>& which, Fibre what) {
        for (const int n : which)
            if (n >= 1 && n <= count) fibres_[static_cast<std::size_t>(n - 1)] = what;
    };
    set(s.wanted, Fibre::Asked);
    set(s.report.tested, Fibre::Good);
    set(s.open, Fibre::Asked);
    set(s.report.bad, Fibre::Bad);
    std::map<int, Strip> strips;
    for (const auto& a : s.report.attenuation) {
        const int nm = static_cast<int>(std::lround(a.wavelength.value() / 10) * 10);
        Strip& strip = strips[nm];
        strip.wavelength = nm;
        strip.measured.push_back(a.measured.value());
        if (a.allowed) strip.allowed = a.allowed->value();
        if (a.fibre >= 1 && a.fibre <= count)
            says_[static_cast<std::size_t>(a.fibre - 1)] += tr("\n%1 nm: %2 dB/km").arg(nm).arg(a.measured.value(), 0, 'f', 3);
    }
    for (const auto& f : s.report.faults)
        if (f.fibre >= 1 && f.fibre <= count) says_[static_cast<std::size_t>(f.fibre - 1)] += QLatin1Char('\n') + QString::fromStdString(f.words);
    for (auto& [nm, strip] : strips) {
        if (s.filed && s.filed->delivered)
            for (const auto& [of, value] : s.filed->delivered->what.delivery.supplier)
                if (std::abs(of - nm) < 15) strip.papers = value.value();
        strips_.push_back(strip);
    }
    setAccessibleName(tr("%1 fibres tested, %2 bad, %3 open").arg(s.report.tested.size()).arg(s.report.bad.size()).arg(s.open.size()));
    fit();
    update();
}

int FibreField::columns() const
{
    const int most = std::clamp(width() / em(1.75), 12, 48);
    return std::max(1, std::min<int>(static_cast<int>(fibres_.size()), most / 12 * 12));
}

QRectF FibreField::boxOf(int fibre) const
{
    const int n = columns();
    const double wide = std::min<double>(em(2.6), double(width()) / n), high = em(1.5);
    return {(fibre - 1) % n * wide, em(1.6) + (fibre - 1) / n * high, wide - 3, high - 3};
}

void FibreField::fit()
{
    const double field = fibres_.empty() ? em(1.6) : boxOf(static_cast<int>(fibres_.size())).bottom() + em(0.5);
    setFixedHeight(static_cast<int>(field) + static_cast<int>(strips_.size()) * em(2.9));
}

void FibreField::resizeEvent(QResizeEvent*) { fit(); }

void FibreField::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setFont(boldOf(*this));
    p.setPen(theme().ink);
    p.drawText(QRectF(0, 0, em(8), em(1.4)), Qt::AlignVCenter, tr("Fibres"));
    p.setFont(font());
    p.setPen(theme().soft);
    p.drawText(QRectF(em(4), 0, width() - em(4), em(1.4)), Qt::AlignVCenter,
               p.fontMetrics().elidedText(tr("filled: tested and right · notched: bad · framed: asked for · thin: not asked for"), Qt::ElideRight,
                                          width() - em(4)));
    for (int n = 1; n <= static_cast<int>(fibres_.size()); ++n) {
        const QRectF box = boxOf(n);
        const Fibre what = fibres_[static_cast<std::size_t>(n - 1)];
        QPainterPath shape;
        shape.addRoundedRect(box, 3, 3);
        if (what == Fibre::Bad) {
            QPainterPath notch;
            notch.moveTo(box.center().x() - box.width() / 5, box.top());
            notch.lineTo(box.center().x() + box.width() / 5, box.top());
            notch.lineTo(box.center().x(), box.top() + box.height() / 3);
            notch.closeSubpath();
            shape = shape.subtracted(notch);
        }
        const bool filled = what == Fibre::Good || what == Fibre::Bad;
        p.setBrush(filled ? QBrush(what == Fibre::Bad ? theme().damaged : theme().fit) : QBrush(theme().card));
        p.setPen(filled ? QPen(Qt::NoPen) : what == Fibre::Asked ? QPen(theme().work, 2, Qt::DashLine) : QPen(theme().rule, 1));
        p.drawPath(shape);
        p.setPen(filled ? theme().onFit() : theme().ink);
        if (box.width() > p.fontMetrics().horizontalAdvance(QString::number(n)))
            p.drawText(box.adjusted(0, what == Fibre::Bad ? 3 : 0, 0, 0), Qt::AlignCenter, QString::number(n));
    }
    double top = fibres_.empty() ? em(1.6) : boxOf(static_cast<int>(fibres_.size())).bottom() + em(0.5);
    for (const auto& strip : strips_) {
        paintStrip(p, strip, top);
        top += em(2.9);
    }
}

/// All fibres of a wavelength on one axis from nothing to a bit more than is allowed.
void FibreField::paintStrip(QPainter& p, const Strip& strip, double top) const
{
    const double left = em(5), right = width() - em(4.5), line = top + em(1.75);
    const auto [least, largest] = std::minmax_element(strip.measured.begin(), strip.measured.end());
    const double most = 1.15 * std::max({*largest, strip.allowed.value_or(0), strip.papers.value_or(0)});
    const auto x = [&](double value) { return left + (right - left) * value / most; };
    p.setPen(theme().ink);
    p.drawText(QRectF(0, line - em(0.7), left - 8, em(1.4)), Qt::AlignRight | Qt::AlignVCenter, tr("%1 nm").arg(strip.wavelength));
    p.setPen(QPen(theme().rule, 1));
    p.drawLine(QPointF(left, line), QPointF(right, line));
    p.setBrush(Qt::NoBrush);
    for (const double value : strip.measured) {
        const bool over = strip.allowed && value > *strip.allowed;
        p.setPen(QPen(over ? theme().damaged : theme().fit, 1.6));
        p.drawEllipse(QPointF(x(value), line), em(0.28), em(0.28));
    }
    const QString measured =
        strip.measured.size() == 1 ? tr("%1 dB/km").arg(*least, 0, 'f', 3) : tr("%1 to %2 dB/km").arg(*least, 0, 'f', 3).arg(*largest, 0, 'f', 3);
    p.setPen(theme().ink);
    p.drawText(QPointF(left, line - em(0.5)), measured);
    if (strip.papers) {
        p.setPen(QPen(theme().soft, 1, Qt::DashLine));
        p.drawLine(QPointF(x(*strip.papers), line - em(0.5)), QPointF(x(*strip.papers), line + em(0.5)));
        p.setPen(theme().soft);
        const QString words = tr("papers %1").arg(*strip.papers);
        p.drawText(QPointF(std::max(left, x(*strip.papers) - 4 - p.fontMetrics().horizontalAdvance(words)), line + em(1.05)), words);
    }
    if (strip.allowed) {
        p.setPen(QPen(theme().damaged, 2));
        p.drawLine(QPointF(x(*strip.allowed), line - em(0.7)), QPointF(x(*strip.allowed), line + em(0.7)));
        const QString words = tr("ordered %1").arg(*strip.allowed);
        p.setPen(theme().damaged);
        p.drawText(QPointF(x(*strip.allowed) + 4, line + em(1.05)), words);
    }
}

bool FibreField::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    for (int n = 1; n <= static_cast<int>(fibres_.size()); ++n)
        if (boxOf(n).contains(help->pos())) {
            static const QStringList words{tr("not asked for"), tr("asked for, not tested"), tr("tested and right"), tr("bad")};
            QToolTip::showText(help->globalPos(),
                               tr("fibre %1: %2%3")
                                   .arg(n)
                                   .arg(words[static_cast<int>(fibres_[static_cast<std::size_t>(n - 1)])], says_[static_cast<std::size_t>(n - 1)]),
                               this);
            return true;
        }
    QToolTip::hideText();
    return true;
}

SampleCurve::SampleCurve(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("sampleCurve"));
    setFixedHeight(em(9));
}

QString SampleCurve::words(const reel::SamplingPlan& plan, int percent)
{
    const int bad = badOf(plan, percent);
    return (bad == 1 ? tr("A reel with %1 bad fibre of %2 (%3 %) is accepted in %4 % of cases.")
                     : tr("A reel with %1 bad fibres of %2 (%3 %) is accepted in %4 % of cases."))
        .arg(bad)
        .arg(plan.lot)
        .arg(100.0 * bad / plan.lot, 0, 'f', 0)
        .arg(100 * reel::acceptedWith(plan, bad), 0, 'f', 0);
}

void SampleCurve::show(const reel::SamplingPlan& plan, int percent)
{
    plan_ = plan;
    percent_ = percent;
    setAccessibleName(words(plan, percent));
    update();
}

void SampleCurve::paintEvent(QPaintEvent*)
{
    if (!plan_) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF frame(em(3.6), em(0.6), width() - em(4.6), height() - em(3));
    constexpr double most = 0.3;  // of the fibres
    const auto place = [&](double share, double accepted) {
        return QPointF(frame.left() + frame.width() * share / most, frame.bottom() - frame.height() * accepted);
    };
    p.setPen(QPen(theme().rule, 1));
    for (const double part : {0.0, 0.5, 1.0}) {
        p.setPen(QPen(theme().rule, 1));
        p.drawLine(place(0, part), place(most, part));
        p.setPen(theme().soft);
        p.drawText(QRectF(0, place(0, part).y() - em(0.7), frame.left() - 6, em(1.4)), Qt::AlignRight | Qt::AlignVCenter,
                   tr("%1 %").arg(100 * part, 0, 'f', 0));
    }
    for (int tick = 0; tick <= 30; tick += 5)
        p.drawText(QRectF(place(tick / 100.0, 0).x() - em(2), frame.bottom() + 2, em(4), em(1.2)), Qt::AlignCenter, QString::number(tick));
    p.drawText(QRectF(frame.left(), frame.bottom() + em(1.15), frame.width(), em(1.2)), Qt::AlignCenter,
               tr("bad fibres, % · how often the reel is accepted, % of cases"));
    QPainterPath curve;
    for (int bad = 0; bad <= plan_->lot * most + 1; ++bad) {
        const QPointF at = place(std::min(most, double(bad) / plan_->lot), reel::acceptedWith(*plan_, bad));
        if (bad == 0)
            curve.moveTo(at);
        else
            curve.lineTo(at);
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme().fit, 2));
    p.drawPath(curve);
    const int bad = badOf(*plan_, percent_);
    const QPointF marked = place(std::min(most, double(bad) / plan_->lot), reel::acceptedWith(*plan_, bad));
    p.setPen(QPen(theme().work, 1.5, Qt::DashLine));
    p.drawLine(QPointF(marked.x(), frame.bottom()), marked);
    p.drawLine(QPointF(frame.left(), marked.y()), marked);
    p.setBrush(theme().work);
    p.drawEllipse(marked, em(0.25), em(0.25));
}

}  // namespace clendo
