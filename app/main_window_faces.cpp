// What the main window does with the face in hand: cleaned, mated, handled, joined, overruled.
#include <QFileDialog>
#include <QFileInfo>
#include <utility>

#include "app/clean_dialog.h"
#include "app/contacts_dialog.h"
#include "app/look_view.h"
#include "app/main_window.h"
#include "app/overrule_dialog.h"
#include "app/pick.h"
#include "app/picture_intake.h"
#include "record/kit.h"

namespace clendo {

void MainWindow::clean()
{
    if (!link()) return;
    if (session_->state().state(chosen_.link).mated.contains(chosen_.connection))
        say(tr("This pair is mated. Cleaning it means it was opened: both faces must be seen again."), false);
    const JobState& state = session_->state();
    QStringList tools;
    for (const KitItem* tool : toolsFor(state, link()->cable->connectorAt(chosen_.connection), cleaningTarget(state, chosen_)))
        tools << QString::fromStdString(tool->what.id);
    const auto does = [&state](const QString& tool, const std::string& method) {
        const auto item = state.kit.find(tool.toStdString());
        return item == state.kit.end() || doesMethod(state, item->second, method);
    };
    CleanDialog dialog(adviceFor(state.face(chosen_), state.policy("first_method"), cleaningTarget(state, chosen_)), tools, this, does);
    if (dialog.exec() != QDialog::Accepted) return;
    const std::string tool = dialog.tool().toStdString();
    working_ = StepKind::Clean;
    if (!session_->file(FaceCleaned{chosen_, dialog.method(), dialog.strokes(), tool})) return;
    const auto used = session_->state().kit.find(tool);
    const auto left = used == session_->state().kit.end() ? std::nullopt : leftOn(used->second);
    if (left && *left <= used->second.what.most / 10)
        say(tr("Filed. Now look again. %1 has %2 strokes left: take a fresh one soon.").arg(dialog.tool()).arg(std::max(0, *left)), true);
    else
        say(tr("Filed. Now look again."), false);
    showDesk(Desk::Look);
}

void MainWindow::cleanSleeve()
{
    const Link* l = link();
    if (!l) return;
    const QString where = QString::fromStdString(l->where({l->id, chosen_.connection, Side::Port}));
    const bool mated = session_->state().state(l->id).mated.contains(chosen_.connection);
    if (session_->file(SleeveCleaned{l->id, chosen_.connection}))
        say(mated ? tr("Filed: the sleeve of %1 is clean. So the pair was opened: mate it again.").arg(where)
                  : tr("Filed: the sleeve of %1 is clean.").arg(where),
            false);
}

void MainWindow::handled()
{
    if (!link()) return;
    const std::vector<std::pair<QString, Fact>> known{{tr("touched"), FaceHandled{chosen_, "touched"}},
                                                      {tr("dropped"), FaceHandled{chosen_, "dropped"}},
                                                      {tr("moved"), FaceHandled{chosen_, "moved"}},
                                                      {tr("open too long"), FaceHandled{chosen_, "open too long"}},
                                                      {tr("capped"), FaceCovered{chosen_, "capped"}},
                                                      {tr("parked in a clean port"), FaceCovered{chosen_, "parked"}},
                                                      {tr("factory cap on"), FaceCovered{chosen_, "factory cap"}},
                                                      {tr("cap taken off"), FaceCovered{chosen_, "open"}}};
    QStringList answers;
    for (const auto& [words, fact] : known) answers << words;
    const auto answer = pick(this, tr("What happened to it?"), tr("The face in hand was"), answers, false);
    if (!answer) return;
    const Fact& fact = known[static_cast<std::size_t>(answers.indexOf(*answer))].second;
    if (session_->file(fact))
        say(std::holds_alternative<FaceHandled>(fact) ? tr("Filed: %1. It must be seen again.").arg(*answer) : tr("Filed: %1.").arg(*answer), false);
}

void MainWindow::showContacts()
{
    if (!link()) return;
    ContactsDialog dialog(session_->state(), chosen_, this);
    if (dialog.exec() != QDialog::Accepted) return;
    if (session_->state().link(dialog.chosen().link))
        choose(dialog.chosen());
    else
        say(tr("A test cord is in no port: Shift+J looks at it or says what was done with it."), false);
}

void MainWindow::mate()
{
    const Link* l = link();
    if (!l) return;
    if (session_->state().state(l->id).mated.contains(chosen_.connection)) return say(tr("This pair is mated already."), false);
    std::string reason;
    if (const auto ok = mayMate(session_->state(), *l, chosen_.connection); !ok) {
        const QString why = QString::fromStdString(ok.error().message);
        if (ok.error().code != Error::Code::StepRefused) return say(why, true);
        // hands that are busy are not trapped in a question: only who presses again is asked why
        if (std::exchange(refused_, chosen_) != chosen_) return say(tr("%1 M again: mate all the same, with a reason.").arg(why), true);
        bool sure = false;
        const QString said = QInputDialog::getText(this, tr("Mate all the same?"), tr("%1\nIf you mate all the same, say why (Esc: no):").arg(why),
                                                   QLineEdit::Normal, QString(), &sure)
                                 .trimmed();
        if (!sure || said.isEmpty()) return say(why, true);
        reason = said.toStdString();
        l = link();
        if (!l) return;
    }
    refused_ = {};
    // filing folds the state anew: what `l` points to is gone then
    const QString done = tr("Mated: fibre %1 at %2.").arg(l->fibre).arg(QString::fromStdString(l->place(chosen_.connection)));
    if (session_->file(Mated{l->id, chosen_.connection, reason})) say(done, false);
}

void MainWindow::unroll()
{
    look_->toggleUnrolled();
    showDesk(Desk::Look);
}

void MainWindow::overrule()
{
    const Link* l = link();
    if (!l) return;
    showDesk(Desk::Look);
    const Try* look = session_->state().face(chosen_).lastJudged();
    if (!look) return say(tr("This face was not judged yet: there is nothing to overrule."), true);
    OverruleDialog dialog(chosen_, *look, optionalOf(session_->state().criteria(chosen_)), this);
    if (dialog.exec() != QDialog::Accepted) return;
    if (session_->file(dialog.fact())) say(tr("Filed: the record keeps what was measured and what you say. Z takes it back."), false);
}

}  // namespace clendo
