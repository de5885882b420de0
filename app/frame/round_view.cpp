#include "app/frame/round_view.h"

#include <QHBoxLayout>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>

#include "app/frame/round_strips.h"
#include "app/widgets/theme.h"

namespace clendo {
namespace {

/// Within a sentence.
QString midSentence(const QString& title) { return title.left(1).toLower() + title.mid(1); }

}  // namespace

RoundView::RoundView(QWidget* parent)
    : QFrame(parent),
      title_(new TextBlock(this)),
      progress_(new TextBlock(this)),
      card_(new TextBlock(this)),
      then_(new TextBlock(this)),
      area_(new QScrollArea(this)),
      strips_(new RoundStrips)
{
    setObjectName(QStringLiteral("round"));
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::AlternateBase);
    title_->setObjectName(QStringLiteral("roundTitle"));
    title_->setSingleLine();
    progress_->setObjectName(QStringLiteral("roundProgress"));
    progress_->setSingleLine();
    auto* head = new QHBoxLayout;
    head->addWidget(title_);
    head->addStretch();
    head->addWidget(progress_);
    card_->setObjectName(QStringLiteral("nextStep"));
    then_->setObjectName(QStringLiteral("stepsAfter"));
    area_->setObjectName(QStringLiteral("roundArea"));
    area_->setWidget(strips_);
    area_->setWidgetResizable(true);
    area_->setFocusPolicy(Qt::NoFocus);
    area_->setFrameShape(QFrame::NoFrame);
    area_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area_->viewport()->setAutoFillBackground(false);
    strips_->setAutoFillBackground(false);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 10, 8);
    layout->addLayout(head);
    layout->addWidget(card_);
    layout->addWidget(then_);
    layout->addWidget(area_, 1);
    setFixedWidth(em(18));
    connect(strips_, &RoundStrips::faceChosen, this, &RoundView::faceChosen);
    connect(strips_, &RoundStrips::kindChosen, this, &RoundView::kindChosen);
}

void RoundView::clear()
{
    title_->setText(tr("The round"), true);
    progress_->setText({});
    card_->setText(tr("Nothing planned yet."));
    then_->hide();
    area_->hide();
}

void RoundView::show(const std::shared_ptr<const JobState>& state, const Round& round, const std::vector<Step>& next, const FaceId& chosen,
                     const std::string& place)
{
    title_->setText(place.empty() ? tr("The round") : QString::fromStdString(place), true);
    progress_->setText(tr("%1 of %2 done").arg(round.done).arg(round.all));
    showNext(next, round);
    area_->setVisible(round.all > 0);
    strips_->show(state, tallyOf(*state, place), chosen);
    if (std::exchange(chosen_, chosen) == chosen) return;
    if (const QRect port = strips_->chosenPort(); port.isValid()) area_->ensureVisible(port.center().x(), port.center().y(), 0, em(3));
}

void RoundView::showNext(const std::vector<Step>& next, const Round& round)
{
    const Theme& t = theme();
    card_->setCard(t.fit);
    then_->setVisible(next.size() > 1);
    if (next.empty())
        return card_->setParagraphs(round.all == 0 ? std::vector<Paragraph>{{{tr("Nothing planned yet.")}}}
                                    : round.left.empty()
                                        ? std::vector<Paragraph>{{{tr("All done."), true}}, {{tr("Write the certificate: 4, then W.")}}}
                                        : std::vector<Paragraph>{{{tr("What is left waits for a decision.")}}});
    const Step& first = next.front();
    QStringList carried;
    for (const auto& thing : first.carry) carried << QString::fromStdString(thing);
    card_->setParagraphs({{{tr("Next, at %1").arg(QString::fromStdString(first.place)), false, t.soft}},
                          {{QString::fromStdString(first.title), true}},
                          {{QString::fromStdString(first.where)}},
                          {{tr("take: %1").arg(carried.isEmpty() ? tr("nothing") : carried.join(QStringLiteral(", "))) +
                                (first.advice.empty() ? QString() : QStringLiteral("; ") + QString::fromStdString(first.advice)),
                            false, t.soft}}});
    std::vector<Paragraph> after;
    for (std::size_t i = 1; i < next.size(); ++i)
        after.push_back(
            {{tr("then %1, %2").arg(midSentence(QString::fromStdString(next[i].title)), QString::fromStdString(next[i].where)), false, t.soft}});
    then_->setParagraphs(std::move(after));
}

}  // namespace clendo
