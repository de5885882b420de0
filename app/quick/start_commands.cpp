// How to begin without a job of one's own.
#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QProcess>
#include <QStandardPaths>

#include "app/frame/command.h"
#include "app/frame/window_frame.h"
#include "app/look/look_desk.h"

namespace clendo {
namespace {

/// The program that makes the demo job, installed beside this one or in the build beside it; empty: it is not there.
QString demoProgram()
{
    const QDir here(QCoreApplication::applicationDirPath());
    for (const char* place : {"clendo-demo", "../demo/clendo-demo"})
        if (const QFileInfo file(here.filePath(QLatin1String(place))); file.isExecutable()) return file.absoluteFilePath();
    return {};
}

void openDemo(WindowFrame& frame)
{
    const QDir folder(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/demo"));
    const auto open = [&frame, folder] {
        frame.openJob(folder.filePath(QStringLiteral("varrow-point.clendo")), WindowFrame::Again::No, [&frame, folder] {
            frame.deskOf<LookDesk>().useSimulatedScope(folder.filePath(QStringLiteral("scope")));
            frame.say(QObject::tr("A made-up job to try things on. Key P takes a picture with a simulated scope."));
        });
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
