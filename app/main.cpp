#include <fontconfig/fontconfig.h>

#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <QTimer>
#include <QtConcurrentRun>
#include <cstdio>
#include <future>
#include <optional>

#include "app/frame/main_window.h"
#include "app/hands/demo_hands.h"
#include "app/look/look_desk.h"
#include "app/widgets/live_picture.h"
#include "app/widgets/theme.h"
#include "files/files.h"
#include "files/shipped_text.h"

int main(int argc, char** argv)
{
    // the system's font settings are some forty files: read while Qt starts and the job is opened
    const auto fontSettings = std::async(std::launch::async, FcInit);
    if (!qEnvironmentVariableIsSet("QT_MEDIA_BACKEND")) qputenv("QT_MEDIA_BACKEND", "ffmpeg");  // the other needs plugins that are often missing
    QApplication application(argc, argv);
    QCoreApplication::setApplicationName(QStringLiteral("Clendo"));
    QCommandLineParser arguments;
    arguments.setApplicationDescription(QStringLiteral("End faces, loss and traces for fibre test technicians"));
    arguments.addHelpOption();
    arguments.addPositionalArgument(QStringLiteral("job"), QStringLiteral("a .clendo file to open"));
    arguments.addOption({QStringLiteral("watch"), QStringLiteral("take pictures from this folder"), QStringLiteral("folder")});
    arguments.addOption(
        {QStringLiteral("simulated-scope"), QStringLiteral("key P lets a simulated scope save into this folder"), QStringLiteral("folder")});
    arguments.addOption({QStringLiteral("simulation"),
                         QStringLiteral("instruments and hands are those of clendo-sim, which printed this file; with --simulated-scope"),
                         QStringLiteral("file")});
    arguments.addOption({QStringLiteral("video"), QStringLiteral("live pictures from this video file (key V)"), QStringLiteral("file")});
    arguments.addOption({QStringLiteral("dark"), QStringLiteral("dark theme")});
    arguments.addOption({QStringLiteral("quit-when-shown"), QStringLiteral("close as soon as the window is usable (for measuring the start)")});
    arguments.process(application);
    std::optional<clendo::MainWindow::JobOnItsWay> job;  // read while the window is made
    if (!arguments.positionalArguments().isEmpty())
        job = QtConcurrent::run([path = arguments.positionalArguments().constFirst()] {
            return std::make_shared<clendo::Result<clendo::ReadJob>>(clendo::readJob(path));
        });
    const auto readRules = [] { static_cast<void>(QtConcurrent::run([] { clendo::readAllShipped(clendo::dataFolder()); })); };
    if (!job) readRules();  // a quick look wants them at once
    fontSettings.wait();    // asking for a font before would read them a second time
    clendo::applyTheme(application, arguments.isSet(QStringLiteral("dark")));
    clendo::MainWindow window;
    auto& look = window.deskOf<clendo::LookDesk>();
    if (arguments.isSet(QStringLiteral("watch"))) look.watchFolder(arguments.value(QStringLiteral("watch")));
    if (arguments.isSet(QStringLiteral("simulated-scope"))) look.useSimulatedScope(arguments.value(QStringLiteral("simulated-scope")));
    if (arguments.isSet(QStringLiteral("simulation"))) {
        const auto attached =
            clendo::DemoHands::attach(window, arguments.value(QStringLiteral("simulation")), arguments.value(QStringLiteral("simulated-scope")));
        if (!attached) window.say(attached.error());
    }
    if (arguments.isSet(QStringLiteral("video"))) look.live().useVideoFile(arguments.value(QStringLiteral("video")));
    const auto usable = [&] {
        window.show();
        if (arguments.isSet(QStringLiteral("quit-when-shown")))
            QTimer::singleShot(0, &application, [] {
                std::puts("usable");
                std::fflush(stdout);
                QApplication::quit();
            });
    };
    if (job) {
        constexpr int patience = 500;  // ms; a long job is read on while the window stands
        window.takeJob(*job, usable);
        QTimer::singleShot(patience, &window, &QWidget::show);
    } else {
        usable();
    }
    // the icon needs a plugin, and a job reads the rules that it needs itself: after the window stands
    QTimer::singleShot(100, &window, [&] {
        QApplication::setWindowIcon(QIcon(QString::fromStdString((clendo::dataFolder() / "icons/clendo.svg").string())));
        if (job) readRules();
    });
    return QApplication::exec();
}
