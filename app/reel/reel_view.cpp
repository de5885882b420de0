#include "app/reel/reel_view.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/reel/fibre_field.h"
#include "app/reel/length_drawing.h"
#include "app/reel/reel_shelf.h"
#include "app/reel/sample_curve.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "record/journal/time_text.h"
#include "reel/delivery_text.h"

namespace clendo {
namespace {

constexpr int badShown = 5;  // percent of bad fibres, that the curve marks

QString joined(const QStringList& parts) { return parts.join(QStringLiteral(" · ")); }

/// What was ordered and what was read of the reel, in a line.
QString ordersOf(const reel::Delivery& d)
{
    QStringList parts;
    parts << QObject::tr("%1 fibres %2").arg(d.fibres).arg(QString::fromStdString(d.type)).trimmed();
    if (!d.jacket.empty())
        parts << (d.environment.empty()
                      ? QObject::tr("%1 jacket").arg(QString::fromStdString(d.jacket))
                      : QObject::tr("%1 jacket, to lie %2s").arg(QString::fromStdString(d.jacket), QString::fromStdString(d.environment)));
    if (d.marks)
        parts << QObject::tr("marks %1 and %2 %3")
                     .arg(d.marks->outer, 0, 'f', 0)
                     .arg(d.marks->inner, 0, 'f', 0)
                     .arg(d.marks->unit == reel::MarkUnit::Feet ? QStringLiteral("ft") : QStringLiteral("m"));
    else
        parts << QObject::tr("marks not read");
    parts << (d.excess > 0 ? QObject::tr("fibre %1 % longer than cable").arg(100 * d.excess) : QObject::tr("the fibre’s excess is not said"));
    if (d.supplierLength) parts << QObject::tr("papers: %1 m").arg(d.supplierLength->value());
    if (!d.date.empty()) parts << QObject::tr("came %1").arg(QString::fromStdString(d.date));
    return joined(parts);
}

}  // namespace

ReelView::ReelView(QWidget* parent)
    : QWidget(parent),
      title_(new QLabel(tr("<b>Reels</b>: what came, and what it is worth"), this)),
      shelf_(new ReelShelf(this)),
      papers_(new TextBlock(this)),
      empty_(new TextBlock(this)),
      chosen_(new QWidget(this)),
      with_(new QLabel(this)),
      cord_(new CordBox(tr("which cord: not said"), tr("%1, end %2 at the OTDR"), this)),
      length_(new LengthDrawing(this)),
      fibres_(new FibreField(this)),
      sampleTitle_(new QLabel(this)),
      curve_(new SampleCurve(this)),
      filed_(new TextBlock(this))
{
    setObjectName(QStringLiteral("reelView"));
    cord_->setObjectName(QStringLiteral("reelCord"));
    cord_->setAccessibleName(tr("Launch cord"));
    cord_->offerPlain(true);
    papers_->setObjectName(QStringLiteral("reelPapers"));
    filed_->setObjectName(QStringLiteral("reelFiled"));
    sampleTitle_->setObjectName(QStringLiteral("sampleTitle"));
    sampleTitle_->setWordWrap(true);
    empty_->setText(tr("No reel came yet. Shift+E writes one down: what was ordered, and the marks on its sheath."));
    auto* with = new QHBoxLayout;
    with->addWidget(with_);
    with->addWidget(cord_, 1);
    auto* of = new QVBoxLayout(chosen_);
    of->setContentsMargins(0, 0, 0, 0);
    of->setSpacing(em(0.5));
    of->addWidget(papers_);
    of->addLayout(with);
    of->addWidget(length_);
    of->addWidget(fibres_);
    of->addWidget(sampleTitle_);
    of->addWidget(curve_);
    of->addWidget(filed_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 10);
    layout->addWidget(title_);
    layout->addWidget(shelf_);
    layout->addWidget(empty_);
    layout->addWidget(chosen_);
    layout->addStretch(1);
    connect(shelf_, &ReelShelf::picked, this, &ReelView::picked);
}

ReelLaunch ReelView::launch(const JobState& state) const
{
    if (state.policy("reel_launch") == "without") return {};
    return {state.plan->job.launchCord, cord_->cord()};
}

void ReelView::show(const JobState& state, const std::string& reel)
{
    reel_ = reel;
    shelf_->show(state, reel);
    empty_->setVisible(state.reels.empty());
    const ReelStanding standing = standingOf(state, reel);
    chosen_->setVisible(standing.filed != nullptr);
    if (!standing.filed) return;
    const bool with = state.policy("reel_launch") != "without";
    with_->setText(with ? tr("<b>Shot through</b> a launch cord of %1 m:").arg(state.plan->job.launchCord.value(), 0, 'f', 0)
                        : tr("<b>Shot without a launch cord</b>: the joint and the first metres are not measured"));
    cord_->setVisible(with);
    cord_->offer(state);
    papers_->setText(standing.filed->delivered ? ordersOf(standing.filed->delivered->what.delivery) : tr("what was ordered is not written down"));
    const auto price = standing.filed->delivered ? standing.filed->delivered->what.delivery.pricePerMetre : std::nullopt;
    length_->show(standing.report.length, price);
    fibres_->show(standing);
    const bool sample = standing.filed->sampled && state.policy("reel") == "sample";
    sampleTitle_->setVisible(sample);
    curve_->setVisible(sample);
    if (sample) {
        const ReelSampled& s = standing.filed->sampled->what;
        sampleTitle_->setText(tr("<b>What the sample is worth</b>: %1 of %2 fibres, level %3, AQL %4, drawn with seed %5%8; %6 bad reject. %7")
                                  .arg(s.sample.plan.size)
                                  .arg(s.sample.plan.lot)
                                  .arg(QString::fromStdString(s.level).toHtmlEscaped())
                                  .arg(s.aql)
                                  .arg(s.seed)
                                  .arg(s.sample.plan.reject)
                                  .arg(s.sample.plan.all() ? tr("That is all of them.") : SampleCurve::words(s.sample.plan, badShown))
                                  .arg(standing.filed->draws > 1 ? tr(" (draw No. %1)").arg(standing.filed->draws) : QString()));
        curve_->setVisible(!s.sample.plan.all());
        curve_->show(s.sample.plan, badShown);
    }
    tell(state, standing);
}

/// What was filed of it, in lines.
void ReelView::tell(const JobState& state, const ReelStanding& standing)
{
    const ReelState& filed = *standing.filed;
    std::vector<Paragraph> out;
    const auto line = [&](const QString& head, const QString& words) { out.push_back({{head, true}, {QLatin1Char(' ') + words}}); };
    if (!standing.report.kind.empty()) line(tr("Looks like"), QString::fromStdString(standing.report.kind));
    if (!filed.joints.empty()) {
        const auto& last = filed.joints.back();
        QString words =
            tr("%1 made; the last to fibre %2, %3").arg(filed.joints.size()).arg(last.what.fibre).arg(QString::fromStdString(last.what.kind));
        if (!last.what.part.empty()) words += tr("; %1 used %2 times").arg(QString::fromStdString(last.what.part)).arg(usesOf(state, last.what.part));
        if (standing.last) words += tr("; as the last shot shows: %1").arg(text(reel::name(standing.last->joint)));
        line(tr("Joints"), words);
    }
    if (!filed.shots.empty()) {
        const auto& last = filed.shots.back();
        line(tr("Traces"), tr("%1 filed, %2 count; the last: fibre %3 at %4 nm, %5")
                               .arg(filed.shots.size())
                               .arg(countingShots(filed).size())
                               .arg(last.what.fibre)
                               .arg(last.what.wavelength.value(), 0, 'f', 0)
                               .arg(QString::fromStdString(timeText(last.at))));
    }
    QStringList pictures;
    for (const auto& picture : filed.pictures)
        pictures << QString::fromStdString(picture.what.says.empty() ? picture.what.pictureName : picture.what.says);
    if (!pictures.isEmpty()) line(tr("Photographs"), pictures.join(QStringLiteral(", ")));
    if (filed.decided)
        line(tr("Decided"),
             tr("%1 by %2, %3%4%5")
                 .arg(text(reel::decided(filed.decided->what.verdict)), QString::fromStdString(filed.decidedBy),
                      QString::fromStdString(timeText(filed.decided->at)),
                      filed.decided->what.note.empty() ? QString() : QStringLiteral(": ") + QString::fromStdString(filed.decided->what.note),
                      standing.decisionOvertaken ? tr("; it was shot again since") : QString()));
    for (const auto& [cable, laid] : state.laid)
        if (laid.reel == reel_) line(tr("Laid"), tr("cable %1; its traces are the baseline").arg(QString::fromStdString(cable)));
    filed_->setParagraphs(std::move(out));
}

}  // namespace clendo
