#include "app/journal/journal_desk.h"

#include "app/journal/journal_view.h"
#include "record/advice/command_ids.h"
#include "record/advice/record_advice.h"

namespace clendo {

static const DeskEntry entry(60, [](WindowFrame& frame) -> std::unique_ptr<Desk> { return std::make_unique<JournalDesk>(frame); });

QWidget* JournalDesk::view()
{
    if (!view_) {
        view_ = new JournalView(frame_.widget());
        connect(view_, &JournalView::faceChosen, this, [this](const FaceId& face) {
            frame_.choose(face);
            frame_.showDesk(QStringLiteral("look"));
        });
    }
    return view_;
}

void JournalDesk::show(const Shown& shown) { view_->show(shown.session->snapshot(), shown.chosen); }

Advice JournalDesk::advice(const Shown& shown) const { return journalAdvice(shown.state(), shown.session->entries()); }

void JournalDesk::jobGoes()
{
    if (view_) view_->clear();  // it reads the entries of the job that goes
}

static const CommandGroup group(60, [](WindowFrame& frame) -> std::vector<Command> {
    const QString here = QStringLiteral("journal");
    const auto view = [&frame] { return frame.deskOf<JournalDesk>().journal(); };
    return {{std::string(command::takeBack),
             CommandMenu::Step,
             QObject::tr("Take back the last entry"),
             {Qt::Key_Z},
             [&frame] { frame.session()->takeBackLast(); },
             [&frame] { return needsJob(frame); }},
            {"journal.search", CommandMenu::Journal, QObject::tr("Search"), {Qt::Key_F}, [view] { view()->search(); }, {}, here},
            {"journal.scope",
             CommandMenu::Journal,
             QObject::tr("Everything, the link's, the face's"),
             {Qt::Key_L},
             [view] { view()->nextScope(); },
             {},
             here}};
});

}  // namespace clendo
