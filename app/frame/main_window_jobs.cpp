// Jobs that the main window opens, makes and leaves.
#include <QCloseEvent>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>

#include "app/frame/main_window.h"

namespace clendo {

bool MainWindow::openJob(const QString& path, Again again)
{
    if (again == Again::No && session() && QFileInfo(session()->path()) == QFileInfo(path)) return true;
    return openJob(JobSession::read(path));
}

bool MainWindow::openJob(Result<ReadJob> job)
{
    if (!job) {
        say(job.error());
        return false;
    }
    setJob(std::make_unique<JobSession>(std::move(*job)));
    return true;
}

bool MainWindow::createJob(const QString& path, const QString& name)
{
    JobSettings settings;
    settings.name = name.toStdString();
    auto job = JobSession::create(path, settings, session() ? session()->who() : QStringLiteral("technician 1"));
    if (!job) {
        say(job.error());
        return false;
    }
    setJob(std::make_unique<JobSession>(std::move(*job)));
    say(tr("New job. Plan the first cable: B."));
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

void MainWindow::setJob(std::unique_ptr<JobSession> session)
{
    for (Desk* desk : desks_) desk->jobGoes();
    place_.clear();
    ranLast_.clear();
    if (job_) leftJobs_->take(std::move(job_));
    job_ = openJobOf(std::move(session), this);
    connect(job_->session.get(), &JobSession::changed, this, &MainWindow::refresh);
    connect(job_->session.get(), &JobSession::said, this, qOverload<const QString&, bool>(&MainWindow::say));
    connect(job_->pictures.get(), &PictureIntake::busyChanged, this, &MainWindow::refresh);
    connect(job_->traces.get(), &TraceIntake::busyChanged, this, &MainWindow::refresh);
    for (Desk* desk : desks_) desk->jobComes(*job_);
    showColumns();
    chosen_ = {};
    desk_ = desks_.front();
    const JobState& state = job_->session->state();
    if (!state.links.empty()) chosen_ = {state.links.front().id, End::A, Side::Cord};
    const Round round = roundOf(state);
    if (!round.left.empty())
        goTo(round.left.front());
    else
        showDesk(desk_->id());
    const JobStore& store = job_->session->store();
    if (!store.readOnlyReason().empty())
        say(QString::fromStdString(store.readOnlyReason()), true);
    else if (!store.notice().empty())
        say(QString::fromStdString(store.notice()), true);
    else if (!state.troubles.empty())
        say(QString::fromStdString(state.troubles.front()), true);
}

int MainWindow::stillJudged() const { return (job_ ? job_->busy() : 0) + leftJobs_->busy(); }

/// A picture that is being judged is not in the job yet: the window waits for it.
void MainWindow::closeEvent(QCloseEvent* event)
{
    if (stillJudged() == 0) return QMainWindow::closeEvent(event);
    event->ignore();
    closing_ = true;
    say(tr("What is being judged is filed first; then the window closes."));
}

}  // namespace clendo
