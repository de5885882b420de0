// Jobs that the main window opens, makes, saves and joins.
#include <QCloseEvent>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QTimer>

#include "app/main_window.h"
#include "app/picture_intake.h"
#include "app/trace_intake.h"
#include "store/save_job.h"

namespace clendo {

bool MainWindow::openJob(const QString& path)
{
    if (session_ && QFileInfo(session_->path()) == QFileInfo(path)) return true;
    return openJob(JobSession::read(path));
}

bool MainWindow::openJob(Result<ReadJob> job)
{
    if (!job) {
        say(job.error());
        return false;
    }
    setSession(std::make_unique<JobSession>(std::move(*job)));
    return true;
}

bool MainWindow::createJob(const QString& path, const QString& name)
{
    JobSettings settings;
    settings.name = name.toStdString();
    auto job = JobSession::create(path, settings, session_ ? session_->who() : QStringLiteral("technician 1"));
    if (!job) {
        say(job.error());
        return false;
    }
    setSession(std::make_unique<JobSession>(std::move(*job)));
    say(tr("New job. Plan the first cable: B."), false);
    return true;
}

void MainWindow::askForJob(bool fresh)
{
    const QString filter = tr("Clendo jobs (*.clendo)");
    QString path = fresh ? QFileDialog::getSaveFileName(this, tr("New job"), QDir::homePath(), filter)
                         : QFileDialog::getOpenFileName(this, tr("Open a job"), QDir::homePath(), filter);
    if (path.isEmpty()) return;
    if (!fresh) {
        openJob(path);
        return;
    }
    if (!path.endsWith(QLatin1String(".clendo"))) path += QLatin1String(".clendo");
    createJob(path, QFileInfo(path).completeBaseName());
}

/// What can be done about a job that cannot simply be worked on.
void MainWindow::troubledJobEntries(QMenu* menu)
{
    const JobStore& store = session_->store();
    const auto before = menu->actions().size();
    if (!store.wrong().empty()) menu->addAction(tr("&Save what is left of this damaged job …"), this, [this] { askWhereToSave(); });
    if (store.lockCanBeTaken()) menu->addAction(tr("&Take the lock over: nobody works there any more"), this, [this] { takeLockOver(); });
    if (!session_->rescuedFrom().isEmpty()) menu->addAction(tr("&Join the rescue copy with its file again"), this, [this] { joinAgain(); });
    if (menu->actions().size() > before) menu->addSeparator();
}

void MainWindow::askWhereToSave()
{
    const QString to = QFileDialog::getSaveFileName(this, tr("Save what is left as"), freeNameBeside(session_->path(), QStringLiteral("saved")),
                                                    tr("Clendo jobs (*.clendo)"));
    if (!to.isEmpty()) saveWhatIsLeft(to);
}

bool MainWindow::saveWhatIsLeft(const QString& to)
{
    if (!session_) return false;
    const auto saved = clendo::saveWhatIsLeft(session_->store(), to, session_->who().toStdString(), timeOfDay());
    if (!saved) return say(saved.error()), false;
    const auto entries = saved->entries, evidence = saved->evidence;
    const auto lost = saved->lost.entries() + static_cast<std::int64_t>(saved->lost.evidence.size());
    if (!openJob(to)) return false;
    say(tr("Saved and opened: %1 entries, %2 pictures and traces. %3")
            .arg(entries)
            .arg(evidence)
            .arg(lost == 0 && !saved->lost.perhapsMore ? tr("Nothing that was filed is missing.")
                                                       : tr("What is missing stands in the journal and on every certificate.")),
        false);
    return true;
}

void MainWindow::takeLockOver()
{
    const QString path = session_->path();
    if (!JobLock::breakOpen(path)) return say(tr("The lock cannot be removed: its folder is write-protected."), true);
    if (openJob(JobSession::read(path))) say(tr("The job is yours now. If somebody else writes to it after all, close it here."), true);
}

void MainWindow::joinAgain()
{
    const auto file = session_->joinAgain();
    if (!file) return say(file.error());
    const QString copy = session_->path();
    if (openJob(*file))
        say(tr("Joined: all that was filed is in %1 again. The rescue copy stays as %2.")
                .arg(QDir::toNativeSeparators(*file), QFileInfo(copy).fileName()),
            false);
}

/// What is still being judged belongs to the job for which it was brought: that job stays open in the background until it is filed.
void MainWindow::letFinish()
{
    if (!session_) return;
    if (intake_->busy() + traces_->busy() == 0) {
        intake_.reset();
        traces_.reset();
        session_.reset();
        return;
    }
    auto* leaving = new Leaving{std::move(session_), std::move(intake_), std::move(traces_)};
    leaving_.emplace_back(leaving);
    leaving->session->disconnect(this);
    leaving->pictures->disconnect(this);
    leaving->traces->disconnect(this);
    connect(leaving->session.get(), &JobSession::said, this,
            [this, name = QString::fromStdString(leaving->session->state().job.name)](const QString& s, bool trouble) {
                say(tr("%1: %2").arg(name, s), trouble);
            });
    const auto done = [this, leaving] {
        if (leaving->pictures->busy() + leaving->traces->busy() > 0) return;
        // not while its own signal is on the way
        QTimer::singleShot(0, this, [this, leaving] {
            std::erase_if(leaving_, [&](const auto& l) { return l.get() == leaving; });
            if (closing_) close();
        });
    };
    connect(leaving->pictures.get(), &PictureIntake::busyChanged, this, done);
    connect(leaving->traces.get(), &TraceIntake::busyChanged, this, done);
}

int MainWindow::stillJudged() const
{
    int out = intake_ ? intake_->busy() + traces_->busy() : 0;
    for (const auto& l : leaving_) out += l->pictures->busy() + l->traces->busy();
    return out;
}

/// A picture that is being judged is not in the job yet: the window waits for it.
void MainWindow::closeEvent(QCloseEvent* event)
{
    if (stillJudged() == 0) return QMainWindow::closeEvent(event);
    event->ignore();
    closing_ = true;
    say(tr("What is being judged is filed first; then the window closes."), false);
}

}  // namespace clendo
