#include "app/loss/bench_bar.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/widgets/theme.h"
#include "record/facts/light_facts.h"

namespace clendo {
namespace {

/// A state of the samples, and whether a person has to do something about it.
struct StateWords {
    QString words;
    bool trouble;
};

StateWords wordsOf(AcquisitionState state)
{
    switch (state) {
        case AcquisitionState::Silent: return {QObject::tr("no answer"), true};
        case AcquisitionState::WrongWavelength: return {QObject::tr("another wavelength is set"), true};
        case AcquisitionState::Tone: return {QObject::tr("a tone, not continuous light"), true};
        case AcquisitionState::Overload: return {QObject::tr("too much light"), true};
        case AcquisitionState::NoLight: return {QObject::tr("no light"), false};
        case AcquisitionState::Unclear: return {QObject::tr("no level"), true};
        case AcquisitionState::Unsteady: return {QObject::tr("not steady yet"), false};
        case AcquisitionState::Steady: return {QObject::tr("steady"), false};
        case AcquisitionState::Taken: return {QObject::tr("filed"), false};
    }
    return {};
}

QString levelOf(const BenchShown& shown)
{
    if (!shown.sample) return QStringLiteral("–");
    switch (shown.sample->kind) {
        case PowerSample::Kind::Level:
            return QObject::tr("%1 dBm").arg(QString::number(shown.sample->power.value(), 'f', 2).replace(u'-', QChar(0x2212)));
        case PowerSample::Kind::Overload: return QObject::tr("overload");
        case PowerSample::Kind::NoLight: return QObject::tr("dark");
        case PowerSample::Kind::Unclear: return QStringLiteral("?");
    }
    return {};
}

}  // namespace

BenchBar::BenchBar(const LightRun& run, QWidget* parent, std::optional<LightRun::Purpose> only) : QWidget(parent), run_(run), only_(only)
{
    setObjectName(only_ ? QStringLiteral("cordBar") : QStringLiteral("benchBar"));
    setFixedHeight(em(5.2));
    connect(&run, &LightRun::changed, this, &BenchBar::follow);
    follow();
}

void BenchBar::follow()
{
    setVisible(run_.meterOnLine() && (!only_ || (run_.running() && run_.purpose() == *only_)));
    setAccessibleName(tr("Meter on the line: %1, %2. %3").arg(levelOf(run_.shown()), wordsOf(run_.shown().state).words, run_.prompt()));
    update();
}

void BenchBar::paintHistory(QPainter& p, const QRectF& box) const
{
    const auto& history = run_.shown().history;
    float low = 0, high = 0;
    bool any = false;
    for (const float level : history)
        if (!std::isnan(level)) {
            low = any ? std::min(low, level) : level;
            high = any ? std::max(high, level) : level;
            any = true;
        }
    if (!any) return;
    constexpr float least = 0.1F;  // dB from top to bottom, so that a meter's own steps do not look like an earthquake
    const float middle = (low + high) / 2, span = std::max(least, high - low);
    QPainterPath path;
    bool pen = false;
    constexpr double samples = 200;
    for (std::size_t i = 0; i < history.size(); ++i) {
        if (std::isnan(history[i])) {
            pen = false;
            continue;
        }
        const QPointF at(box.right() - double(history.size() - 1 - i) / samples * box.width(),
                         box.center().y() - double((history[i] - middle) / span) * box.height() * 0.8);
        pen ? path.lineTo(at) : path.moveTo(at);
        pen = true;
    }
    p.setPen(QPen(theme().fit, 1));
    p.drawPath(path);
    // how much it moved, in words of the reading's own line
    p.setPen(theme().soft);
    p.drawText(QRectF(box.left(), box.bottom() + em(0.1), box.width(), em(1.4)), Qt::AlignRight | Qt::AlignVCenter,
               tr("± %1 dB").arg(double(high - low) / 2, 0, 'f', 2));
}

void BenchBar::paintEvent(QPaintEvent*)
{
    const BenchShown& shown = run_.shown();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().card);
    p.drawRoundedRect(rect(), 6, 6);
    const double pad = em(0.6), split = em(10.5), right = width() - em(9);
    const auto state = wordsOf(shown.state);
    const QString trouble = !shown.meterTrouble.isEmpty() ? shown.meterTrouble : shown.sourceTrouble;
    QFont big = font();
    big.setPointSizeF(font().pointSizeF() * 1.8);
    big.setBold(true);
    p.setFont(big);
    p.setPen(theme().ink);
    p.drawText(QRectF(pad, em(0.5), split - pad, em(2.4)), Qt::AlignLeft | Qt::AlignVCenter, levelOf(shown));
    p.setFont(font());
    p.setPen(state.trouble ? theme().damaged : theme().soft);
    const QString at =
        shown.sample && shown.sample->wavelength.value() > 0 ? tr("%1 nm, ").arg(std::lround(shown.sample->wavelength.value())) : QString();
    p.drawText(QRectF(pad, em(3.2), split - pad, em(1.4)), Qt::AlignLeft | Qt::AlignVCenter, at + state.words);
    const QRectF middle(split, em(0.4), right - split - pad, em(2.8)), below(split, em(3.2), width() - split - pad, em(1.4));
    QFont bold = font();
    bold.setBold(true);
    p.setFont(bold);
    p.setPen(trouble.isEmpty() ? theme().ink : theme().damaged);
    const QString idle = tr("%1, on the line").arg(shown.meter.isEmpty() ? tr("The meter") : shown.meter);
    p.drawText(middle, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap, !trouble.isEmpty() ? trouble : run_.running() ? run_.prompt() : idle);
    p.setFont(font());
    p.setPen(theme().soft);
    QString line = QString::fromUtf8(sourceWords(run_.direction()).data(), static_cast<qsizetype>(sourceWords(run_.direction()).size()));
    if (run_.running())
        line =
            (run_.purpose() == LightRun::Purpose::PatchCord ? tr("%1 filed").arg(shown.done) : tr("%1 of %2 filed").arg(shown.done).arg(shown.all)) +
            QStringLiteral(", ") + line;
    else
        line += run_.sourcePlace().isEmpty() ? tr(", set by hand") : tr(", set over its line");
    p.drawText(below, Qt::AlignLeft | Qt::AlignVCenter, line);
    paintHistory(p, QRectF(right, em(0.4), width() - right - pad, em(2.7)));
}

}  // namespace clendo
