// Where the main window's pictures come from: scopes, ferrules with several fibres, many at once.
#include <QFileDialog>
#include <QMenu>

#include "app/batch_view.h"
#include "app/calibration_dialog.h"
#include "app/live_desk.h"
#include "app/look_view.h"
#include "app/main_window.h"
#include "app/picture_intake.h"
#include "app/profiles_dialog.h"
#include "modules/sounds.h"
#include "modules/video.h"
#include "record/ferrule.h"

namespace clendo {

/// On the desk for many at once some keys mean something else.
bool MainWindow::batchKey(int key)
{
    switch (key) {
        case Qt::Key_F: batch_->askForFolder(); return true;
        case Qt::Key_L: batch_->askForLine(); return true;
        case Qt::Key_E: batch_->askForExport(); return true;
        case Qt::Key_T: batch_->askForLabel(); return true;
        case Qt::Key_D: batch_->toggleBothEnds(); return true;
        case Qt::Key_J: batch_->checkCleaner(); return true;
        case Qt::Key_W: batch_->writeCord(); return true;
        case Qt::Key_N:
        case Qt::Key_Space: batch_->nextCord(); return true;
        case Qt::Key_Escape: batch_->stop(); return true;
        default: return false;
    }
}

void MainWindow::judged(const FaceId& face)
{
    const Link* l = session_->state().link(face.link);
    sound(face);
    const auto condition = name(session_->state().face(face).condition);
    if (!l || l->cable->ferruleFibres <= 1)
        return say(tr("Judged: %1 is %2.")
                       .arg(QString::fromStdString(session_->state().where(face)),
                            QString::fromUtf8(condition.data(), static_cast<qsizetype>(condition.size()))),
                   false);
    say(tr("Judged: %1").arg(QString::fromStdString(ferruleTally(session_->state(), face))), false);
    if (const auto next = nextGroup(session_->state(), face);
        next && ferruleOf(session_->state(), chosen_).front() == ferruleOf(session_->state(), face).front())
        choose(*next);  // the next picture is filed from there on
}

void MainWindow::sound(const FaceId& face)
{
    if (!soundOn_) return;
    const auto condition = session_->state().face(decidingFace(session_->state(), face)).condition;
    if (condition == FaceCondition::NotSeen || condition == FaceCondition::Stale) return;
    if (const auto module = sounds())
        module->play(condition == FaceCondition::Fit ? Sound::Fit : condition == FaceCondition::Damaged ? Sound::Damaged : Sound::Work);
}

void MainWindow::turnKey()
{
    if (!intake_) return;
    intake_->setKeyWay(intake_->keyWay() == KeyWay::Up ? KeyWay::Down : KeyWay::Up);
    const bool up = intake_->keyWay() == KeyWay::Up;
    look_->setKeyWay(up ? QString() : tr("Key down: fibre 1 at the right."));
    refresh();
    say(up ? tr("Ferrules are held with the key up: fibre 1 is at the left of a picture.")
           : tr("Ferrules are held with the key down: fibre 1 is at the right of a picture."),
        false);
}

void MainWindow::toggleLive()
{
    if (!link()) return;
    showDesk(Desk::Look);
    if (live_->running())
        live_->stop();
    else
        live_->start();
}

void MainWindow::calibrate()
{
    if (!link()) return;
    CalibrationDialog dialog(session_->state(), chosen_, this);
    if (dialog.exec() != QDialog::Accepted) return;
    if (session_->file(dialog.fact())) say(tr("Kept with today's date. A cladding that disagrees is pointed out from now on."), false);
}

void MainWindow::showProfiles()
{
    if (session_) ProfilesDialog(*session_, chosen_, this).exec();
}

void MainWindow::chooseScope(QMenu* menu)
{
    menu->addAction(tr("Live picture on or off") + QStringLiteral("\tV"), [this] { toggleLive(); });
    menu->addSeparator();
    const auto take = [this, menu](const QString& text, auto choose) {
        menu->addAction(text, [this, choose] {
            choose();
            toggleLive();
        });
    };
    const auto module = video();
    for (const auto& camera : module ? module->cameras() : QList<CameraName>())
        take(tr("Camera: %1").arg(camera.title), [this, id = camera.id] { live_->useCamera(id); });
    take(tr("Simulated scope"), [this] { live_->useSimulatedScope(); });
    menu->addAction(tr("Video file …"), [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, tr("Video of a scope"), QString(), tr("Videos (*.avi *.mp4 *.mkv *.mov);;All files (*)"));
        if (path.isEmpty()) return;
        live_->useVideoFile(path);
        toggleLive();
    });
    menu->addAction(tr("Stills that keep coming into a folder …"), [this] {
        const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder of stills"));
        if (folder.isEmpty()) return;
        live_->useFolder(folder);
        toggleLive();
    });
    menu->addSeparator();
    menu->addAction(tr("Calibrate a scope and its tip …"), [this] { calibrate(); });
}

}  // namespace clendo
