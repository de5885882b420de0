// Cables are planned one by one or from a table.
#include "app/plan/plan_commands.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QtConcurrentRun>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/plan/import_dialog.h"
#include "app/plan/plan_dialog.h"
#include "app/widgets/save_file.h"
#include "app/widgets/when_done.h"
#include "files/files.h"
#include "plant/plan_csv.h"
#include "record/advice/command_ids.h"
#include "result/guarded.h"

namespace clendo {

using PlanLines = Result<std::vector<PlanLine>>;

void showImport(WindowFrame& frame, const PlanLines& lines)
{
    if (!lines) return frame.say(lines.error());
    if (!frame.session()) return;  // it was closed meanwhile
    ImportDialog dialog(*lines, frame.session()->state().plan->cables, frame.session()->state().plan->connectors, frame.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    std::vector<Fact> facts;
    for (const auto& cable : dialog.cables()) facts.emplace_back(CablePlanned{cable});
    frame.session()->file(facts, [&frame, first = dialog.cables().front().id, planned = facts.size()] {
        frame.choose({first + "/1", End::A, Side::Cord});
        frame.say(planned == 1 ? QObject::tr("Planned: 1 cable.") : QObject::tr("Planned: %1 cables.").arg(planned), false);
    });
}

void importTable(WindowFrame& frame, const QString& path)
{
    whenDone(QtConcurrent::run([file = path.toStdString()] {
                 return guarded([&] { return readFile(file).and_then([](const std::string& bytes) { return readPlanCsv(bytes); }); });
             }),
             frame.widget(), [&frame](const PlanLines& lines) { showImport(frame, lines); });
}

namespace {

void planCable(WindowFrame& frame)
{
    const Link* like = frame.link();
    PlanDialog dialog(frame.session()->state().plan->cables, frame.session()->state().plan->connectors, like ? like->cable : nullptr, frame.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    const CablePlan cable = dialog.cable();
    frame.session()->file(CablePlanned{cable}, [&frame, cable] {
        frame.choose({cable.id + "/1", End::A, Side::Cord});
        frame.say(QObject::tr("Planned: cable %1, fibres 1 to %2.").arg(QString::fromStdString(cable.id)).arg(cable.fibres), false);
    });
}

/// Without a job it begins one.
void askForTable(WindowFrame& frame)
{
    const QString folder = frame.session() ? QFileInfo(frame.session()->path()).path() : QDir::homePath();
    const QString table = QFileDialog::getOpenFileName(frame.widget(), QObject::tr("Table of cables"), folder,
                                                       QObject::tr("Tables (*.csv *.txt *.tsv);;All files (*)"));
    if (table.isEmpty()) return;
    if (frame.session()) return importTable(frame, table);
    QString job = QFileDialog::getSaveFileName(frame.widget(), QObject::tr("The new job for these cables"),
                                               QFileInfo(table).dir().filePath(QFileInfo(table).completeBaseName() + QStringLiteral(".clendo")),
                                               QObject::tr("Clendo jobs (*.clendo)"));
    if (job.isEmpty()) return;
    if (!job.endsWith(QLatin1String(".clendo"))) job += QLatin1String(".clendo");
    frame.createJob(job, QFileInfo(job).completeBaseName(), [&frame, table] { importTable(frame, table); });
}

void saveTableExample(WindowFrame& frame)
{
    const QString path = QFileDialog::getSaveFileName(frame.widget(), QObject::tr("An example of a table"), QStringLiteral("cables.csv"),
                                                      QObject::tr("Tables (*.csv)"));
    if (path.isEmpty()) return;
    saveFile(frame.widget(), path, planCsvExample,
             [&frame](const Result<void>& saved) { saved ? frame.say(QObject::tr("Saved: fill it in and import it.")) : frame.say(saved.error()); });
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    using Menu = CommandMenu;
    const auto job = [&frame] { return needsJob(frame); };
    return {{std::string(command::planCable), Menu::Plan, QObject::tr("Plan a cable …"), {Qt::Key_B}, [&frame] { planCable(frame); }, job},
            {"plan.table", Menu::Plan, QObject::tr("Cables from a table …"), {Qt::CTRL | Qt::Key_I}, [&frame] { askForTable(frame); }},
            {"plan.example", Menu::Plan, QObject::tr("An example of such a table …"), {Qt::CTRL | Qt::SHIFT | Qt::Key_I}, [&frame] {
                 saveTableExample(frame);
             }}};
}

const CommandGroup group(10, commandsOf);

}  // namespace
}  // namespace clendo
