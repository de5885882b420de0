// Where pictures come from: scopes, cameras, folders; how they are judged.
#include <QFileDialog>
#include <QWidget>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/look/calibration_dialog.h"
#include "app/look/look_desk.h"
#include "app/widgets/live_picture.h"
#include "app/widgets/pick.h"
#include "modules/video.h"

namespace clendo {
namespace {

void watchFolder(WindowFrame& frame)
{
    const QString folder = QFileDialog::getExistingDirectory(frame.widget(), QObject::tr("Folder into which the scope saves"));
    if (!folder.isEmpty()) frame.deskOf<LookDesk>().watchFolder(folder);
}

void chooseScope(WindowFrame& frame)
{
    LivePicture& live = frame.deskOf<LookDesk>().live();
    const QString simulated = QObject::tr("Simulated scope"), file = QObject::tr("Video file …"),
                  stills = QObject::tr("Stills that keep coming into a folder …");
    const auto module = video();
    const auto cameras = module ? module->cameras() : QList<CameraName>();
    QStringList answers;
    for (const auto& camera : cameras) answers << QObject::tr("Camera: %1").arg(camera.title);
    answers << simulated << file << stills;
    const auto answer = pick(frame.widget(), QObject::tr("Live picture"), QObject::tr("It comes from"), answers, false);
    if (!answer) return;
    if (*answer == simulated) {
        live.useSimulatedScope();
    } else if (*answer == file) {
        const QString path = QFileDialog::getOpenFileName(frame.widget(), QObject::tr("Video of a scope"), QString(),
                                                          QObject::tr("Videos (*.avi *.mp4 *.mkv *.mov);;All files (*)"));
        if (path.isEmpty()) return;
        live.useVideoFile(path);
    } else if (*answer == stills) {
        const QString folder = QFileDialog::getExistingDirectory(frame.widget(), QObject::tr("Folder of stills"));
        if (folder.isEmpty()) return;
        live.useFolder(folder);
    } else {
        live.useCamera(cameras[answers.indexOf(*answer)].id);
    }
    frame.run(frame.desk() == QLatin1String("quick") ? "quick.live" : "face.live");
}

void calibrate(WindowFrame& frame)
{
    CalibrationDialog dialog(frame.session()->state(), frame.chosen(), frame.widget());
    if (dialog.exec() != QDialog::Accepted) return;
    frame.session()->file(dialog.fact(),
                          [&frame] { frame.say(QObject::tr("Kept with today's date. A cladding that disagrees is pointed out from now on.")); });
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    using Menu = CommandMenu;
    const auto link = [&frame] { return needsLink(frame); };
    const auto focus = [&frame](double steps) { return [&frame, steps] { frame.deskOf<LookDesk>().live().turnFocus(steps); }; };
    return {{"scope.watch", Menu::Look, QObject::tr("Watch a scope's folder …"), {Qt::CTRL | Qt::Key_F}, [&frame] { watchFolder(frame); }},
            {"scope.choose", Menu::Look, QObject::tr("Live picture from another scope …"), {Qt::SHIFT | Qt::Key_V}, [&frame] { chooseScope(frame); }},
            {"scope.focus-up", Menu::Look, QObject::tr("Focus of the simulated scope, one way"), {Qt::Key_Period}, focus(1)},
            {"scope.focus-down", Menu::Look, QObject::tr("Focus of the simulated scope, the other way"), {Qt::Key_Comma}, focus(-1)},
            {"scope.calibrate",
             Menu::Look,
             QObject::tr("Calibrate a scope and its tip …"),
             {Qt::SHIFT | Qt::Key_C},
             [&frame] { calibrate(frame); },
             link},
            {"scope.sounds", Menu::View, QObject::tr("Sounds on or off"), {Qt::Key_F7}, [&frame] {
                 frame.deskOf<LookDesk>().setSound(!frame.deskOf<LookDesk>().soundOn());
                 frame.say(frame.deskOf<LookDesk>().soundOn() ? QObject::tr("Sounds are on.") : QObject::tr("Sounds are off."));
             }}};
}

const CommandGroup group(22, commandsOf);

}  // namespace
}  // namespace clendo
