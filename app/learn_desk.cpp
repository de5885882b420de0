#include "app/learn_desk.h"

#include <QPainter>
#include <cmath>

#include "app/theme.h"

namespace clendo {
namespace {

/// A row of a chart: its words, how full its bar is, and what stands behind it.
struct Bar {
    QString words;
    double full = 0;
    QString figure;
};

struct Chart {
    QString title;
    std::vector<Bar> bars;
};

QString text(const std::string& words) { return QString::fromStdString(words); }

Chart sharesOf(const QString& title, const std::vector<Share>& shares)
{
    Chart chart{title, {}};
    for (const auto& s : shares) chart.bars.push_back({text(s.of), double(s.right) / s.all, QObject::tr("%1 of %2").arg(s.right).arg(s.all)});
    return chart;
}

std::vector<Chart> chartsOf(const Learned& learned)
{
    std::vector<Chart> out;
    std::vector<Share> first{learned.firstTimeFit};
    for (const auto* more : {&learned.byPlace, &learned.byConnector, &learned.bySide}) first.insert(first.end(), more->begin(), more->end());
    if (learned.firstTimeFit.all == 0) first.clear();
    out.push_back(sharesOf(QObject::tr("Fit at the first look"), first));
    out.push_back(sharesOf(QObject::tr("Fit after one cleaning, by method"), learned.byMethod));
    out.push_back(sharesOf(QObject::tr("Fit after one cleaning, by tool"), learned.byTool));
    out.push_back(sharesOf(QObject::tr("What went away, by method"), learned.goneByMethod));
    out.push_back(sharesOf(QObject::tr("Test cords, looks that were fit"), learned.byCord));
    Chart ports{QObject::tr("Faces that took most cleanings"), {}};
    const double most = learned.troublePorts.empty() ? 1 : learned.troublePorts.front().all;
    for (const auto& p : learned.troublePorts)
        ports.bars.push_back({text(p.of), p.all / std::max(1.0, most),
                              QObject::tr("%1, %2").arg(p.all).arg(p.right ? QObject::tr("fit now") : QObject::tr("not fit"))});
    out.push_back(ports);
    Chart kit{QObject::tr("Used up of the kit"), {}};
    for (const auto& item : learned.used)
        kit.bars.push_back(
            {text(item.what.id), std::min(1.0, double(item.used) / item.what.most), QObject::tr("%1 of %2").arg(item.used).arg(item.what.most)});
    out.push_back(kit);
    return out;
}

double lineHeight() { return em(1.5); }

double heightOf(const Chart& chart)
{
    return em(1.9) + lineHeight() * double(std::max<std::size_t>(1, std::min<std::size_t>(chart.bars.size(), 8))) + em(1.0);
}

void paintChart(QPainter& p, const Chart& chart, const QRectF& box)
{
    const Theme& t = theme();
    QFont bold = p.font();
    bold.setBold(true);
    const QFont plain = p.font();
    p.setFont(bold);
    p.setPen(t.ink);
    p.drawText(QRectF(box.left(), box.top(), box.width(), em(1.8)), Qt::AlignVCenter, chart.title);
    p.setFont(plain);
    double y = box.top() + em(1.9);
    if (chart.bars.empty()) {
        p.setPen(t.soft);
        p.drawText(QRectF(box.left(), y, box.width(), lineHeight()), Qt::AlignVCenter, QObject::tr("nothing yet"));
        return;
    }
    const double name = box.width() * 0.42, figure = em(6.4), bar = box.width() - name - figure;
    for (std::size_t i = 0; i < std::min<std::size_t>(chart.bars.size(), 8); ++i, y += lineHeight()) {
        const Bar& b = chart.bars[i];
        p.setPen(t.ink);
        p.drawText(QRectF(box.left(), y, name - em(0.6), lineHeight()), Qt::AlignVCenter,
                   p.fontMetrics().elidedText(b.words, Qt::ElideMiddle, int(name - em(0.6))));
        const QRectF track(box.left() + name, y + lineHeight() * 0.25, bar, lineHeight() * 0.5);
        p.fillRect(track, t.rule);
        p.fillRect(QRectF(track.left(), track.top(), track.width() * std::clamp(b.full, 0.0, 1.0), track.height()), t.fit);
        p.drawText(QRectF(track.right() + em(0.5), y, figure - em(0.5), lineHeight()), Qt::AlignVCenter, b.figure);
    }
}

}  // namespace

LearnDesk::LearnDesk(QWidget* parent) : QWidget(parent) { setObjectName(QStringLiteral("learnDesk")); }

void LearnDesk::show(const JobState& state)
{
    learned_ = learn(state);
    QStringList words;
    for (const auto& chart : chartsOf(learned_)) {
        words << chart.title;
        for (const auto& bar : chart.bars) words << QStringLiteral("%1: %2").arg(bar.words, bar.figure);
    }
    setAccessibleName(words.join(QLatin1Char('\n')));
    update();
}

void LearnDesk::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double margin = em(1.0), gap = em(1.6), width2 = (width() - 2 * margin - gap) / 2;
    double y[2] = {margin, margin};
    for (const auto& chart : chartsOf(learned_)) {
        const int column = y[0] <= y[1] ? 0 : 1;
        paintChart(p, chart, {margin + column * (width2 + gap), y[column], width2, heightOf(chart)});
        y[column] += heightOf(chart);
    }
}

}  // namespace clendo
