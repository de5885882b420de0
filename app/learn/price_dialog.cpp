#include "app/learn/price_dialog.h"

#include <QFormLayout>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/widgets/dialog_buttons.h"
#include "app/widgets/text_block.h"
#include "app/widgets/theme.h"

namespace clendo {

// Assumptions of this project, to be changed by who knows better: a return takes two hours, and one dirty face in four calls for it.
constexpr int minutesAtFirst = 120, shareAtFirst = 25;

PriceDialog::PriceDialog(const JobState& state, std::span<const Entry> journal, QWidget* parent)
    : QDialog(parent), price_(priceOfLooks(state, journal)), minutes_(new QSpinBox(this)), share_(new QSpinBox(this)), words_(new TextBlock(this))
{
    setObjectName(QStringLiteral("priceDialog"));
    setWindowTitle(tr("The price of a skipped look"));
    words_->setObjectName(QStringLiteral("priceWords"));
    minutes_->setObjectName(QStringLiteral("priceMinutes"));
    share_->setObjectName(QStringLiteral("priceShare"));
    minutes_->setRange(1, 10'000);
    minutes_->setValue(minutesAtFirst);
    minutes_->setSuffix(tr(" minutes"));
    share_->setRange(0, 100);
    share_->setValue(shareAtFirst);
    share_->setSuffix(tr(" %"));
    auto* form = new QFormLayout;
    form->addRow(tr("&Assumed: one return, with the way"), minutes_);
    form->addRow(tr("A&ssumed: of the dirty faces, would have called for one"), share_);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(words_);
    layout->addLayout(form);
    layout->addWidget(acceptOrBack(*this, tr("Done (Enter)")).row);
    setMinimumWidth(em(40));
    for (auto* field : {minutes_, share_}) connect(field, &QSpinBox::valueChanged, this, &PriceDialog::follow);
    follow();
}

void PriceDialog::follow()
{
    std::vector<Paragraph> paragraphs;
    for (const auto& sentence : wordsOf(price_, {Second(60.0 * minutes_->value()), share_->value() / 100.0}))
        paragraphs.push_back({{QString::fromStdString(sentence), false}});
    words_->setParagraphs(paragraphs);
}

namespace {

const CommandGroup group(45, [](WindowFrame& frame) -> std::vector<Command> {
    return {{"learn.price",
             CommandMenu::Journal,
             QObject::tr("The price of a skipped look …"),
             {Qt::CTRL | Qt::Key_Y},
             [&frame] {
                 const JobSnapshot shown = frame.session()->snapshot();
                 PriceDialog(*shown.state, shown.journal.all(), frame.widget()).exec();
             },
             [&frame] { return needsJob(frame); }}};
});

}  // namespace
}  // namespace clendo
