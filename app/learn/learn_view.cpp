#include "app/learn/learn_view.h"

#include <QPainter>
#include <algorithm>

#include "app/widgets/theme.h"

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

std::vector<Chart> chartsOf(const Learned& learned, const Overrulings& overruled)
{
    std::vector<Chart> out;
    std::vector<Share> first{learned.firstTimeFit};
    for (const auto* more : {&learned.byPlace, &learned.byConnector, &learned.bySide}) first.insert(first.end(), more->begin(), more->end());
    if (learned.firstTimeFit.all == 0) first.clear();
    out.push_back(sharesOf(QObject::tr("First-pass yield"), first));
    out.push_back(sharesOf(QObject::tr("Fit after the first cleaning, by method"), learned.byMethod));
    out.push_back(sharesOf(QObject::tr("Fit after the first cleaning, by tool"), learned.byTool));
    out.push_back(sharesOf(QObject::tr("What went away, by method"), learned.goneByMethod));
    out.push_back(sharesOf(QObject::tr("Crowded faces, fit after one cleaning"), learned.byDirt));
    out.push_back(sharesOf(QObject::tr("Test cords, looks that passed"), learned.byCord));
    Chart ports{QObject::tr("Faces that took most cleanings"), {}};
    const double most = learned.troublePorts.empty() ? 1 : learned.troublePorts.front().all;
    for (const auto& p : learned.troublePorts)
        ports.bars.push_back({text(p.of), p.all / std::max(1.0, most),
                              QObject::tr("%1, %2").arg(p.all).arg(p.right ? QObject::tr("fit now") : QObject::tr("not fit now"))});
    out.push_back(ports);
    Chart kit{QObject::tr("Used up of the kit"), {}};
    for (const auto& item : learned.used)
        kit.bars.push_back(
            {text(item.what.id), std::min(1.0, double(item.used) / item.what.most), QObject::tr("%1 of %2").arg(item.used).arg(item.what.most)});
    out.push_back(kit);
    Chart said{QObject::tr("Findings that were overruled, by kind"), {}};
    for (const auto& kind : overruled.kinds) {
        const int times = kind.notReal + kind.renamed;
        const auto word = name(kind.appearance);
        if (times > 0)
            said.bars.push_back({QString::fromUtf8(word.data(), static_cast<qsizetype>(word.size())), double(times) / std::max(1, kind.found),
                                 QObject::tr("%1 of %2").arg(times).arg(kind.found)});
    }
    if (overruled.missed > 0) said.bars.push_back({QObject::tr("missed, added by hand"), 0, QString::number(overruled.missed)});
    out.push_back(said);
    return out;
}

constexpr std::size_t mostBars = 7;

double lineHeight() { return em(1.35); }

double heightOf(const Chart& chart)
{
    return em(1.7) + lineHeight() * double(std::max<std::size_t>(1, std::min(chart.bars.size(), mostBars))) + em(0.7);
}

void paintChart(QPainter& p, const Chart& chart, const QRectF& box)
{
    const Theme& t = theme();
    QFont bold = p.font();
    bold.setBold(true);
    const QFont plain = p.font();
    p.setFont(bold);
    p.setPen(t.ink);
    p.drawText(QRectF(box.left(), box.top(), box.width(), em(1.6)), Qt::AlignVCenter, chart.title);
    p.setFont(plain);
    double y = box.top() + em(1.7);
    if (chart.bars.empty()) {
        p.setPen(t.soft);
        p.drawText(QRectF(box.left(), y, box.width(), lineHeight()), Qt::AlignVCenter, QObject::tr("nothing yet"));
        return;
    }
    // the bar lies behind the words: both have room
    const double figure = em(5.5), inset = em(0.4);
    for (std::size_t i = 0; i < std::min(chart.bars.size(), mostBars); ++i, y += lineHeight()) {
        const Bar& b = chart.bars[i];
        const QRectF row(box.left(), y + 1, box.width(), lineHeight() - 2), track = row.adjusted(0, 0, -figure, 0);
        const double full = track.width() * std::clamp(b.full, 0.0, 1.0);
        p.fillRect(track, t.card);
        p.fillRect(QRectF(track.left(), track.top(), full, track.height()), t.chosen);
        p.fillRect(QRectF(track.left() + std::max(0.0, full - 2), track.top(), 2, track.height()), t.fit);
        p.setPen(t.ink);
        const int room = int(row.width() - figure - 2 * inset);
        p.drawText(row.adjusted(inset, 0, -figure, 0), Qt::AlignVCenter, p.fontMetrics().elidedText(b.words, Qt::ElideMiddle, room));
        p.drawText(row.adjusted(0, 0, -inset, 0), Qt::AlignVCenter | Qt::AlignRight, b.figure);
    }
}

}  // namespace

LearnView::LearnView(QWidget* parent) : QWidget(parent) { setObjectName(QStringLiteral("learnDesk")); }

void LearnView::show(std::span<const Entry> entries, const JobState& state)
{
    learned_ = learn(state);
    overruled_ = overrulingsIn(entries);
    QStringList words;
    for (const auto& chart : chartsOf(learned_, overruled_)) {
        words << chart.title;
        for (const auto& bar : chart.bars) words << QStringLiteral("%1: %2").arg(bar.words, bar.figure);
    }
    setAccessibleName(words.join(QLatin1Char('\n')));
    update();
}

void LearnView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double margin = em(1.0), gap = em(1.6), width2 = (width() - 2 * margin - gap) / 2;
    double y[2] = {margin, margin};
    for (const auto& chart : chartsOf(learned_, overruled_)) {
        const int column = y[0] <= y[1] ? 0 : 1;
        paintChart(p, chart, {margin + column * (width2 + gap), y[column], width2, heightOf(chart)});
        y[column] += heightOf(chart);
    }
}

}  // namespace clendo
