// Keys, and whether a certificate was changed.
#include <QFileDialog>
#include <QFileInfo>
#include <QtConcurrentRun>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/sign/check_dialog.h"
#include "app/sign/keys_dialog.h"
#include "app/sign/save_labels.h"
#include "app/sign/signer.h"
#include "app/widgets/when_done.h"
#include "result/guarded.h"

namespace clendo {
namespace {

void checkCertificate(WindowFrame& frame)
{
    const QString beside = frame.session() ? QFileInfo(frame.session()->path()).dir().filePath(QStringLiteral("certificates")) : QString();
    const QString folder = QFileDialog::getExistingDirectory(frame.widget(), QObject::tr("The folder of a certificate"), beside);
    if (folder.isEmpty()) return;
    frame.say(QObject::tr("Checking %1 …").arg(folder), false);
    whenDone(QtConcurrent::run([folder, ring = Signer::of(frame.widget()).ring()] {
                 return guarded([&] { return seal::checkFolder(folder.toStdString(), ring.known()); });
             }),
             frame.widget(), [&frame, folder](const Result<seal::FolderCheck>& check) {
                 if (!check) return frame.say(check.error());
                 frame.say(QString::fromStdString(check->sentence()), !check->ok());
                 CheckDialog(folder, *check, frame.widget()).exec();
             });
}

void saveLabelsOf(WindowFrame& frame, const CablePlan* cable)
{
    saveLabels(frame, labelsOf(frame.session()->state(), cable), cable ? QString::fromStdString(cable->id) : QObject::tr("kit"));
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    using Menu = CommandMenu;
    return {{"sign.keys",
             Menu::Sign,
             QObject::tr("Keys that sign certificates …"),
             {Qt::CTRL | Qt::Key_K},
             [&frame] { KeysDialog(Signer::of(frame.widget()), frame.widget()).exec(); }},
            {"sign.check", Menu::Sign, QObject::tr("Was a certificate changed? …"), {Qt::CTRL | Qt::Key_E}, [&frame] { checkCertificate(frame); }},
            {"sign.labels",
             Menu::Sign,
             QObject::tr("Labels of the cable’s ports …"),
             {Qt::SHIFT | Qt::Key_B},
             [&frame] { saveLabelsOf(frame, frame.link()->cable); },
             [&frame] { return needsLink(frame); }},
            {"kit.labels",
             Menu::Sign,
             QObject::tr("Labels of the kit’s cords …"),
             {Qt::CTRL | Qt::Key_B},
             [&frame] { saveLabelsOf(frame, nullptr); },
             [&frame] { return needsJob(frame); }}};
}

const CommandGroup group(41, commandsOf);

}  // namespace
}  // namespace clendo
