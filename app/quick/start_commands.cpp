// How to begin without a job of one's own.
#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QProcess>
#include <QStandardPaths>

#include "app/frame/command.h"
#include "app/frame/window_frame.h"
#include "app/hands/demo_hands.h"
#include "app/look/look_desk.h"
#include "app/widgets/save_file.h"

namespace clendo {
namespace {

/// A program installed beside this one, or in the build beside it; empty: it is not there.
QString programBeside(const QString& name, const QString& folder)
{
    const QDir here(QCoreApplication::applicationDirPath());
    for (const QString& place : {name, QStringLiteral("../%1/%2").arg(folder, name)})
        if (const QFileInfo file(here.filePath(place)); file.isExecutable()) return file.absoluteFilePath();
    return {};
}

/// The program that makes the demo job.
QString demoProgram() { return programBeside(QStringLiteral("clendo-demo"), QStringLiteral("demo")); }

/// Starts the demo's world beside the window, for as long as that stands. Where it cannot be started there is a scope alone, which knows nothing of
/// what was done before.
void startWorld(WindowFrame& frame, const QDir& folder)
{
    const QString scope = folder.filePath(QStringLiteral("scope")), ready = folder.filePath(QStringLiteral("simulation.json"));
    const QString program = programBeside(QStringLiteral("clendo-sim"), QStringLiteral("sim"));
    const auto alone = [&frame, scope] {
        frame.deskOf<LookDesk>().useSimulatedScope(scope);
        frame.say(QObject::tr("A made-up job to try things on. Key P takes a picture with a simulated scope."));
    };
    if (program.isEmpty()) return alone();
    auto* world = new QProcess(frame.widget());
    QObject::connect(world, &QProcess::errorOccurred, frame.widget(), alone);
    QObject::connect(world, &QProcess::readyReadStandardOutput, frame.widget(), [&frame, world, ready, scope, alone] {
        if (!world->canReadLine()) return;
        const std::string line = world->readLine().toStdString();
        QObject::disconnect(world, nullptr, frame.widget(), nullptr);
        saveFile(
            frame.widget(), ready, [line] { return line; },
            [&frame, ready, scope, alone](const Result<void>& saved) {
                const auto attached = saved ? DemoHands::attach(frame, ready, scope) : saved;
                if (!attached) return alone();
                frame.say(QObject::tr(
                    "A made-up job to try things on, and a world in which your hands act: the panel below. P takes a picture, R a reference."));
            });
    });
    world->start(program, {folder.filePath(QStringLiteral("world.json"))});
}

void openDemo(WindowFrame& frame)
{
    const QDir folder(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/demo"));
    const auto open = [&frame, folder] {
        frame.openJob(folder.filePath(QStringLiteral("varrow-point.clendo")), WindowFrame::Again::No,
                      [&frame, folder] { startWorld(frame, folder); });
    };
    if (QFileInfo::exists(folder.filePath(QStringLiteral("demo-made.json")))) return open();
    QDir().mkpath(folder.path());
    frame.say(QObject::tr("Making the demo job: some seconds."));
    auto* maker = new QProcess(frame.widget());
    QObject::connect(maker, &QProcess::finished, frame.widget(), [&frame, maker, open](int status) {
        maker->deleteLater();
        if (status == 0) return open();
        frame.say(QObject::tr("The demo job could not be made: %1").arg(QString::fromUtf8(maker->readAllStandardError()).trimmed()), true);
    });
    maker->start(demoProgram(), {folder.path()});
}

const CommandGroup group(81, [](WindowFrame& frame) -> std::vector<Command> {
    return {{"job.demo",
             CommandMenu::Job,
             QObject::tr("The demo job"),
             {Qt::CTRL | Qt::Key_D},
             [&frame] { openDemo(frame); },
             [] { return demoProgram().isEmpty() ? QObject::tr("The program that makes the demo is not installed here.") : QString(); }}};
});

}  // namespace
}  // namespace clendo
