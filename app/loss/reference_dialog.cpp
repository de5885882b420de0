#include "app/loss/reference_dialog.h"

#include <QFormLayout>
#include <QVBoxLayout>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/loss/loss_desk.h"
#include "app/loss/plug_drawing.h"
#include "app/widgets/dialog_buttons.h"
#include "app/widgets/on_screen.h"
#include "app/widgets/theme.h"
#include "record/rules/reference_faces.h"
#include "record/state/complete_act.h"

namespace clendo {

ReferenceDialog::ReferenceDialog(const JobState& state, const std::vector<std::string>& inHand, QWidget* parent)
    : QDialog(parent),
      ends_(new QComboBox(this)),
      meter_(new QComboBox(this)),
      launch_(new QComboBox(this)),
      drawing_(new PlugDrawing(this)),
      words_(new QLabel(this))
{
    setObjectName(QStringLiteral("referenceDialog"));
    setWindowTitle(tr("Which reference?"));
    ends_->setObjectName(QStringLiteral("testedEnds"));
    ends_->addItems({tr("panels at both ends: test cords go in"), tr("a plug at one end, a panel at the other"),
                     tr("plugs at both ends: its own cords stay in"), tr("a patch cord, one connector at a time")});
    meter_->setObjectName(QStringLiteral("meterTakes"));
    meter_->addItems({tr("takes the link's connector"), tr("does not take it")});
    launch_->setObjectName(QStringLiteral("launchCord"));
    launch_->addItems({tr("nothing is taken off"), tr("a launch cord comes in later, and its measured loss is taken off")});
    // what the job has now stands first; the first answers that lead there
    using enum ReferenceMethod;
    const ReferenceMethod now = state.plan->job.method;
    ends_->setCurrentIndex(now == TwoCord ? 1 : now == SingleEnded ? 3 : 0);
    meter_->setCurrentIndex(now == ThreeCord ? 1 : 0);
    launch_->setCurrentIndex(state.policy("launch_loss") == "subtract" ? 1 : 0);
    words_->setObjectName(QStringLiteral("referenceWords"));
    words_->setWordWrap(true);
    auto* form = new QFormLayout;
    form->addRow(tr("What is tested has"), ends_);
    form->addRow(tr("The meter"), meter_);
    form->addRow(tr("From each reading"), launch_);
    auto* first = new QLabel(QString::fromStdString(facesToSeeFirst(state, inHand)), this);
    first->setObjectName(QStringLiteral("seeFirst"));
    first->setWordWrap(true);
    first->setVisible(!first->text().isEmpty());
    tint(first, QPalette::WindowText, theme().work);
    auto* layout = new QVBoxLayout(this);
    layout->setSpacing(em(0.7));
    layout->addLayout(form);
    layout->addWidget(drawing_);
    layout->addWidget(words_);
    layout->addWidget(first);
    layout->addStretch();
    layout->addWidget(acceptOrBack(*this, tr("Use it (Enter)")).row);
    for (auto* box : {ends_, meter_, launch_}) connect(box, &QComboBox::currentIndexChanged, this, &ReferenceDialog::answered);
    answered();
    resizeOnScreen(*this, {em(46), em(25)});
}

ReferenceQuestions ReferenceDialog::answers() const
{
    return {static_cast<TestedEnds>(ends_->currentIndex()), meter_->currentIndex() == 0, launch_->currentIndex() == 1};
}

void ReferenceDialog::answered()
{
    const auto choice = referenceFor(answers());
    drawing_->show(choice.method, tr("under test"));
    const auto method = name(choice.method);
    words_->setText(QStringLiteral("<b>%1.</b> %2<br>%3")
                        .arg(QString::fromUtf8(method.data(), qsizetype(method.size())), QString::fromStdString(choice.holds).toHtmlEscaped(),
                             QString::fromStdString(choice.why).toHtmlEscaped()));
}

namespace {

void chooseReference(WindowFrame& frame)
{
    auto& desk = frame.deskOf<LossDesk>();
    ReferenceDialog dialog(frame.session()->state(), desk.gear().with, frame.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    const JobSettings before = frame.session()->state().plan->job;
    JobSettings job = before;
    job.method = referenceFor(dialog.answers()).method;
    if (dialog.answers().takeOffLaunch != (frame.session()->state().policy("launch_loss") == "subtract"))
        job.policies["launch_loss"] = dialog.answers().takeOffLaunch ? "subtract" : "reference";
    if (auto facts = settingFacts(before, job); !facts.empty()) frame.session()->file(std::move(facts));
    frame.showDesk(desk.id());
}

const CommandGroup group(31, [](WindowFrame& frame) -> std::vector<Command> {
    return {{"light.which-reference",
             CommandMenu::Light,
             QObject::tr("Which reference? Three questions …"),
             {Qt::SHIFT | Qt::Key_Q},
             [&frame] { chooseReference(frame); },
             [&frame] { return needsLink(frame); }}};
});

}  // namespace
}  // namespace clendo
