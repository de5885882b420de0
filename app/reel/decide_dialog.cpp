#include "app/reel/decide_dialog.h"

#include <QFormLayout>
#include <QVBoxLayout>

#include "app/widgets/dialog_buttons.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "record/advice/reel_advice.h"

namespace clendo {

using reel::ReelVerdict;

DecideDialog::DecideDialog(std::string reel, const ReelStanding& standing, QWidget* parent)
    : QDialog(parent),
      reel_(std::move(reel)),
      proposed_(standing.proposed),
      verdict_(new QComboBox(this)),
      note_(new QLineEdit(this)),
      lacks_(new TextBlock(this))
{
    setObjectName(QStringLiteral("decideDialog"));
    setWindowTitle(tr("Reel %1").arg(QString::fromStdString(reel_)));
    verdict_->setObjectName(QStringLiteral("decision"));
    for (const auto verdict : {ReelVerdict::Accept, ReelVerdict::AcceptWithNote, ReelVerdict::Reject})
        verdict_->addItem(text(reel::words(verdict)), static_cast<int>(verdict));
    verdict_->setCurrentIndex(std::max(0, verdict_->findData(static_cast<int>(proposed_))));
    note_->setObjectName(QStringLiteral("decisionNote"));
    auto* proposed = new TextBlock(this);
    std::vector<Paragraph> words{
        {{tr("Proposed: "), true},
         {proposed_ == ReelVerdict::NotJudged ? tr("nothing yet") : text(reel::words(proposed_)), true, theme().of(toneOf(proposed_))}}};
    for (const auto& why : standing.report.why) words.push_back({{QString::fromStdString(why)}});
    for (const auto& warning : standing.report.warnings) words.push_back({{QString::fromStdString(warning.message), false, theme().soft}});
    if (!standing.open.empty())
        words.push_back(
            {{tr("%1 of %2 fibres that are asked for were not tested.").arg(standing.open.size()).arg(standing.wanted.size()), false, theme().work}});
    proposed->setParagraphs(std::move(words));
    auto* form = new QFormLayout;
    form->addRow(tr("&Decision"), verdict_);
    form->addRow(tr("&Note"), note_);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(proposed);
    layout->addLayout(form);
    layout->addWidget(lacks_);
    layout->addStretch(1);
    const DialogButtons buttons = acceptOrBack(*this, tr("Decide so (Enter)"));
    accept_ = buttons.accept;
    layout->addWidget(buttons.row);
    setMinimumWidth(em(36));
    connect(verdict_, &QComboBox::currentIndexChanged, this, &DecideDialog::follow);
    connect(note_, &QLineEdit::textChanged, this, &DecideDialog::follow);
    verdict_->setFocus();
    follow();
}

ReelDecided DecideDialog::decided() const
{
    return {reel_, static_cast<ReelVerdict>(verdict_->currentData().toInt()), proposed_, note_->text().trimmed().toStdString()};
}

void DecideDialog::follow()
{
    const ReelDecided d = decided();
    const bool needs = d.note.empty() && (d.verdict != d.proposed || d.verdict == ReelVerdict::AcceptWithNote);
    accept_->setEnabled(!needs);
    lacks_->setText(!needs                    ? tr("It is filed under your name.")
                    : d.verdict != d.proposed ? tr("Something else is proposed: say why in the note.")
                                              : tr("With a note: write it."),
                    false, needs ? theme().work : theme().soft);
}

}  // namespace clendo
