// What the main window does before the round: the plan, the kit, the policy, and who walks where.
#include <QFileDialog>
#include <QFileInfo>

#include "app/check_list_dialog.h"
#include "app/import_dialog.h"
#include "app/kit_dialog.h"
#include "app/main_window.h"
#include "app/plan_dialog.h"
#include "app/policy_dialog.h"
#include "files/files.h"
#include "record/journal/acts.h"
#include "record/kit.h"
#include "record/round.h"

namespace clendo {

void MainWindow::planCable()
{
    if (!session_) return;
    const Link* like = link();
    PlanDialog dialog(session_->state().cables, session_->state().connectors, like ? like->cable : nullptr, this);
    if (dialog.exec() != QDialog::Accepted) return;
    const CablePlan cable = dialog.cable();
    if (!session_->file(CablePlanned{cable})) return;
    choose({cable.id + "/1", End::A, Side::Cord});
    say(tr("Planned: cable %1, fibres 1 to %2.").arg(QString::fromStdString(cable.id)).arg(cable.fibres), false);
}

void MainWindow::askForTable()
{
    if (!session_) return say(tr("Open or make a job first."), true);
    const QString path = QFileDialog::getOpenFileName(this, tr("Table of cables"), QFileInfo(session_->path()).path(),
                                                      tr("Tables (*.csv *.txt *.tsv);;All files (*)"));
    if (!path.isEmpty()) importTable(path);
}

void MainWindow::importTable(const QString& path)
{
    const auto lines = readFile(path.toStdString()).and_then([](const std::string& bytes) { return readPlanCsv(bytes); });
    if (!lines) return say(lines.error());
    ImportDialog dialog(*lines, session_->state().cables, session_->state().connectors, this);
    if (dialog.exec() != QDialog::Accepted) return;
    std::vector<Fact> facts;
    for (const auto& cable : dialog.cables()) facts.emplace_back(CablePlanned{cable});
    if (!session_->file(facts)) return;
    choose({dialog.cables().front().id + "/1", End::A, Side::Cord});
    say(tr("Planned: %1 cables.").arg(facts.size()), false);
}

void MainWindow::saveTableExample()
{
    const QString path = QFileDialog::getSaveFileName(this, tr("An example of a table"), QStringLiteral("cables.csv"), tr("Tables (*.csv)"));
    if (path.isEmpty()) return;
    const auto saved = writeFile(path.toStdString(), planCsvExample());
    say(saved ? tr("Saved: fill it in and import it.") : QString::fromStdString(saved.error().message), !saved);
}

void MainWindow::choosePolicies()
{
    if (!session_) return;
    PolicyDialog dialog(session_->state().job, this);
    if (dialog.exec() != QDialog::Accepted) return;
    auto changes = settingFacts(session_->state().job, dialog.job());
    if (changes.empty()) return say(tr("The job's policy stays as it was."), false);
    if (session_->file(std::move(changes))) say(tr("The job's policy is filed; it holds from now on."), false);
}

void MainWindow::showKit()
{
    if (session_) KitDialog(*session_, this).exec();
}

/// Everywhere, then each place in turn: two people at two ends each see their own round.
void MainWindow::nextPlace()
{
    if (!session_) return;
    const auto places = placesOf(session_->state());
    const auto at = std::find(places.begin(), places.end(), place_);
    if (place_.empty())
        place_ = places.empty() ? std::string() : places.front();
    else
        place_ = at == places.end() || std::next(at) == places.end() ? std::string() : *std::next(at);
    refresh();
    say(place_.empty() ? tr("The round of all places.") : tr("Only what is to be done at %1. L: the next place.").arg(QString::fromStdString(place_)),
        false);
}

void MainWindow::showCarry()
{
    if (!session_) return;
    const Round round = roundOf(session_->state(), place_);
    QList<ListedThing> things;
    const auto take = [&](const QString& where, const std::vector<std::string>& list) {
        if (!list.empty()) things.push_back({where, true});
        for (const auto& thing : list) things.push_back({QString::fromStdString(thing)});
    };
    for (const auto& place : placesOf(session_->state())) take(QString::fromStdString(place), carryList(round.left, place));
    take(tr("Both ends"), carryList(round.left, "Both ends"));
    if (things.empty()) return say(tr("Nothing is left to do, and nothing to take along."), false);
    CheckListDialog(tr("What to take along"), tr("Space ticks what is packed, then comes the next."), things, this).exec();
}

}  // namespace clendo
