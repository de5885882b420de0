// Jobs united, taken elsewhere, and plans taken over.
#include <QFileDialog>
#include <QFileInfo>
#include <QtConcurrentRun>

#include "app/frame/command.h"
#include "app/frame/contradictions_dialog.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/plan/import_dialog.h"
#include "app/plan/plan_commands.h"
#include "app/widgets/when_done.h"
#include "plant/plan_csv.h"
#include "result/guarded.h"
#include "store/job_file.h"
#include "store/job_folder.h"
#include "store/save_job.h"

namespace clendo {
namespace {

QString jobs() { return QObject::tr("Clendo jobs (*.clendo)"); }

/// Settles what two journals say otherwise, where somebody does.
void settle(WindowFrame& frame, const std::vector<Contradiction>& found)
{
    ContradictionsDialog dialog(found, frame.session()->entries(), frame.session()->state(), frame.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    const auto facts = dialog.settled();
    if (facts.empty()) return;
    frame.session()->file(facts, [&frame, n = facts.size()] { frame.say(QObject::tr("Settled: %1.").arg(n), false); });
}

void merge(WindowFrame& frame)
{
    const QString mine = frame.session()->path();
    const QString other = QFileDialog::getOpenFileName(frame.widget(), QObject::tr("Another copy of this job"), QFileInfo(mine).path(), jobs());
    if (other.isEmpty()) return;
    const QString to = freeNameBeside(mine, QStringLiteral("united"));
    frame.session()->withStore<Merged>(
        [other, to](JobStore& store) -> Result<Merged> {
            const auto theirs = JobStore::open(other, JobStore::Access::Read);
            if (!theirs) return tl::unexpected(theirs.error());
            return mergeJobs(store, **theirs, to);
        },
        [&frame, to](const Merged& made) {
            frame.openJob(to, WindowFrame::Again::No, [&frame, made] {
                frame.say(QObject::tr("United: %1 entries, %2 that both had, %3 only here, %4 only there. %5")
                              .arg(made.entries)
                              .arg(made.both)
                              .arg(made.fromA)
                              .arg(made.fromB)
                              .arg(made.contradictions.empty() ? QObject::tr("Nothing contradicts itself.")
                                                               : QObject::tr("%1 things were said otherwise.").arg(made.contradictions.size())),
                          false);
                if (!made.contradictions.empty()) settle(frame, made.contradictions);
            });
        });
}

void exportFolder(WindowFrame& frame)
{
    const QFileInfo job(frame.session()->path());
    const QString to = QFileDialog::getSaveFileName(frame.widget(), QObject::tr("A new folder for the whole job"),
                                                    job.dir().filePath(job.completeBaseName() + QObject::tr(" as files")), QString(), nullptr);
    if (to.isEmpty()) return;
    frame.session()->withStore<JobFolder>([to](JobStore& store) { return exportJob(store, to); },
                                          [&frame, to](const JobFolder& made) {
                                              frame.say(
                                                  QObject::tr("The whole job lies in %1 as plain files: %2 entries, %3 pictures, traces and records.")
                                                      .arg(to)
                                                      .arg(made.entries)
                                                      .arg(made.evidence),
                                                  false);
                                          });
}

void importFolder(WindowFrame& frame)
{
    const QString from = QFileDialog::getExistingDirectory(frame.widget(), QObject::tr("The folder of a job"));
    if (from.isEmpty()) return;
    QString to = QFileDialog::getSaveFileName(frame.widget(), QObject::tr("The job that is made of it"), from + QStringLiteral(".clendo"), jobs());
    if (to.isEmpty()) return;
    if (!to.endsWith(QLatin1String(".clendo"))) to += QLatin1String(".clendo");
    whenDone(QtConcurrent::run([from, to] { return guarded([&] { return importJob(from, to); }); }), frame.widget(),
             [&frame, to](const Result<JobFolder>& made) {
                 if (!made) return frame.say(made.error());
                 frame.openJob(to, WindowFrame::Again::No, [&frame, made = *made] {
                     frame.say(QObject::tr("Taken in: %1 entries, %2 pictures, traces and records.").arg(made.entries).arg(made.evidence), false);
                 });
             });
}

void copyPlan(WindowFrame& frame)
{
    const QString from = QFileDialog::getOpenFileName(frame.widget(), QObject::tr("The job whose cables are planned here, too"),
                                                      QFileInfo(frame.session()->path()).path(), jobs());
    if (from.isEmpty()) return;
    whenDone(QtConcurrent::run([from] {
                 return guarded([&] {
                     return readJob(from, JobStore::Access::Read, noClock).map([](const ReadJob& job) {
                         std::vector<PlanLine> lines;
                         for (const auto& cable : job.fold.state().plan->cables) lines.push_back({static_cast<int>(lines.size()) + 1, cable, {}});
                         return lines;
                     });
                 });
             }),
             frame.widget(), [&frame](const Result<std::vector<PlanLine>>& lines) { showImport(frame, lines); });
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    using Menu = CommandMenu;
    const auto job = [&frame] { return needsJob(frame); };
    return {{"job.merge", Menu::Job, QObject::tr("Unite with another copy of this job …"), {Qt::CTRL | Qt::Key_M}, [&frame] { merge(frame); }, job},
            {"job.export",
             Menu::Job,
             QObject::tr("The whole job as a folder of files …"),
             {Qt::CTRL | Qt::Key_X},
             [&frame] { exportFolder(frame); },
             job},
            {"job.import", Menu::Job, QObject::tr("Job from a folder …"), {Qt::CTRL | Qt::Key_U}, [&frame] { importFolder(frame); }},
            {"plan.copy", Menu::Plan, QObject::tr("Plan of another job …"), {Qt::CTRL | Qt::Key_R}, [&frame] { copyPlan(frame); }, job}};
}

const CommandGroup group(6, commandsOf);

}  // namespace
}  // namespace clendo
