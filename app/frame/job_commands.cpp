// Jobs that cannot simply be worked on; who works here; the log.
#include "app/frame/job_commands.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QMessageBox>
#include <QtConcurrentRun>

#include "app/frame/command.h"
#include "app/frame/job_session.h"
#include "app/frame/window_frame.h"
#include "app/widgets/when_done.h"
#include "files/log_file.h"
#include "store/save_job.h"

namespace clendo {

void saveWhatIsLeft(WindowFrame& frame, const QString& to)
{
    frame.session()->withStore<Saved>(
        [to, who = frame.session()->who().toStdString()](JobStore& store) { return clendo::saveWhatIsLeft(store, to, who, timeOfDay()); },
        [&frame, to](const Saved& saved) {
            const auto lost = saved.lost.entries() + static_cast<std::int64_t>(saved.lost.evidence.size());
            const QString sentence =
                QObject::tr("Saved and opened: %1 entries, %2 pictures and traces. %3")
                    .arg(saved.entries)
                    .arg(saved.evidence)
                    .arg(lost == 0 && !saved.lost.perhapsMore ? QObject::tr("Nothing that was filed is missing.")
                                                              : QObject::tr("What is missing stands in the journal and on every certificate."));
            frame.openJob(to, WindowFrame::Again::No, [&frame, sentence] { frame.say(sentence, false); });
        });
}

namespace {

void askWhereToSave(WindowFrame& frame)
{
    const QString to =
        QFileDialog::getSaveFileName(frame.widget(), QObject::tr("Save what is left as"),
                                     freeNameBeside(frame.session()->path(), QStringLiteral("saved")), QObject::tr("Clendo jobs (*.clendo)"));
    if (!to.isEmpty()) saveWhatIsLeft(frame, to);
}

void takeLockOver(WindowFrame& frame)
{
    const QString path = frame.session()->path();
    whenDone(QtConcurrent::run(&JobLock::breakOpen, path), frame.widget(), [&frame, path](bool broken) {
        if (!broken) return frame.say(QObject::tr("The lock cannot be removed: its folder is write-protected."), true);
        frame.openJob(path, WindowFrame::Again::Yes,
                      [&frame] { frame.say(QObject::tr("The job is yours now. If somebody else writes to it after all, close it here."), true); });
    });
}

void joinAgain(WindowFrame& frame)
{
    frame.session()->joinAgain([&frame](const QString& file) {
        const QString sentence = QObject::tr("Joined: all that was filed is in %1 again. The rescue copy stays as %2.")
                                     .arg(QDir::toNativeSeparators(file), QFileInfo(frame.session()->path()).fileName());
        frame.openJob(file, WindowFrame::Again::No, [&frame, sentence] { frame.say(sentence, false); });
    });
}

void askWhoWorks(WindowFrame& frame)
{
    bool ok = false;
    const QString who =
        QInputDialog::getText(frame.widget(), QObject::tr("Who works here"), QObject::tr("Role or name as it shall stand in the journal"),
                              QLineEdit::Normal, frame.session()->who(), &ok);
    if (ok && !who.trimmed().isEmpty()) frame.session()->setWho(who.trimmed());
}

void showLog(WindowFrame& frame)
{
    QMessageBox::information(
        frame.widget(), QObject::tr("The log"),
        QObject::tr(
            "What went wrong is written down, with what the sentences leave out, in\n%1\nIt stays on this computer and never grows beyond 512 KB.")
            .arg(QDir::toNativeSeparators(QString::fromStdString(programLog().path().string()))));
}

std::vector<Command> commandsOf(WindowFrame& frame)
{
    using Menu = CommandMenu;
    const auto job = [&frame] { return needsJob(frame); };
    /// Why not, where the job is not in the state for which it is meant.
    const auto onlyIf = [&frame](auto is, const QString& else_) {
        return [&frame, is, else_] { return !frame.session() ? needsJob(frame) : is(*frame.session()) ? QString() : else_; };
    };
    return {{"job.who", Menu::Job, QObject::tr("Who works here …"), {Qt::CTRL | Qt::Key_P}, [&frame] { askWhoWorks(frame); }, job},
            {"job.save-rest",
             Menu::Job,
             QObject::tr("Save what is left of this damaged job …"),
             {Qt::CTRL | Qt::Key_S},
             [&frame] { askWhereToSave(frame); },
             onlyIf([](JobSession& s) { return !s.jobFile().wrong.empty(); }, QObject::tr("This job is not damaged."))},
            {"job.take-lock",
             Menu::Job,
             QObject::tr("Take the lock over: nobody works there any more"),
             {Qt::CTRL | Qt::Key_L},
             [&frame] { takeLockOver(frame); },
             onlyIf([](JobSession& s) { return s.jobFile().lockCanBeTaken; }, QObject::tr("Nobody else holds this job."))},
            {"job.join",
             Menu::Job,
             QObject::tr("Join the rescue copy with its file again"),
             {Qt::CTRL | Qt::Key_J},
             [&frame] { joinAgain(frame); },
             onlyIf([](JobSession& s) { return !s.jobFile().rescuedFrom.isEmpty(); }, QObject::tr("This job is no rescue copy."))},
            {"help.log", Menu::Help, QObject::tr("Where the log is"), {Qt::CTRL | Qt::Key_G}, [&frame] { showLog(frame); }}};
}

const CommandGroup group(5, commandsOf);

}  // namespace
}  // namespace clendo
