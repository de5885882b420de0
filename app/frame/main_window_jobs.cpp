// Jobs that the main window opens, makes and leaves.
#include <QCloseEvent>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QFutureWatcher>
#include <QTimer>
#include <QtConcurrentRun>

#include "app/frame/main_window.h"
#include "app/frame/work_bar.h"

namespace clendo {

void MainWindow::openJob(const QString& path, Again again, std::function<void()> then)
{
    if (again == Again::No && session() && QFileInfo(session()->path()) == QFileInfo(path)) return;
    if (opening_ && again == Again::No && openingPath_ == path) return;  // a second click
    openingPath_ = path;
    takeJob(QtConcurrent::run([path] { return std::make_shared<Result<ReadJob>>(readJob(path)); }), std::move(then));
}

void MainWindow::createJob(const QString& path, const QString& name, std::function<void()> then)
{
    JobSettings settings;
    settings.name = name.toStdString();
    const std::string who = session() ? session()->who().toStdString() : std::string("technician 1");
    takeJob(QtConcurrent::run([path, settings, who] { return std::make_shared<Result<ReadJob>>(clendo::createJob(path, settings, who)); }),
            std::move(then));
}

void MainWindow::takeJob(const JobOnItsWay& job, std::function<void()> then)
{
    auto* watcher = new QFutureWatcher<std::shared_ptr<Result<ReadJob>>>(this);
    opening_ = watcher;  // of several the last one counts
    connect(watcher, &QFutureWatcherBase::finished, this, [this, watcher, then = std::move(then)] {
        watcher->deleteLater();
        if (opening_ != watcher) return;
        opening_ = nullptr;
        Result<ReadJob>& read = *watcher->result();
        if (!read) return say(read.error());
        setJob(std::make_unique<JobSession>(std::move(*read)));
        if (then) then();
    });
    watcher->setFuture(job);
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
    work_->stop();  // it reads evidence of the job that goes
    for (Desk* desk : desks_) desk->jobGoes();
    place_.clear();
    ranLast_.clear();
    if (job_) leftJobs_->take(std::move(job_));
    job_ = openJobOf(std::move(session), this);
    connect(job_->session.get(), &JobSession::changed, this, &MainWindow::refresh);
    connect(job_->session.get(), &JobSession::said, this, qOverload<const QString&, bool>(&MainWindow::say));
    connect(job_->session.get(), &JobSession::told, this, &MainWindow::closeWhenDone);
    connect(&job_->session->evidence(), &EvidenceCache::came, this, &MainWindow::refresh);
    connect(job_->pictures.get(), &PictureIntake::busyChanged, this, &MainWindow::refresh);
    connect(job_->traces.get(), &TraceIntake::busyChanged, this, &MainWindow::refresh);
    for (Desk* desk : desks_) desk->jobComes(*job_);
    showColumns();
    chosen_ = {};
    desk_ = desks_.front();
    const JobState& state = job_->session->state();
    if (!state.plan->links.empty()) chosen_ = {state.plan->links.front().id, End::A, Side::Cord};
    const Round round = roundOf(state);
    if (!round.left.empty())
        goTo(round.left.front());
    else
        showDesk(desk_->id());
    const JobFile& file = job_->session->jobFile();
    if (!file.readOnlyReason.empty())
        say(QString::fromStdString(file.readOnlyReason), true);
    else if (!file.notice.empty())
        say(QString::fromStdString(file.notice), true);
    else if (!state.troubles.empty())
        say(QString::fromStdString(state.troubles.front()), true);
}

int MainWindow::underWay() const { return (job_ ? job_->busy() : 0) + leftJobs_->busy(); }

void MainWindow::closeWhenDone()
{
    if (closing_ && underWay() == 0) QTimer::singleShot(0, this, &QWidget::close);
}

/// A picture that is being judged, and what is just being filed, is not in the job yet: the window waits for it.
void MainWindow::closeEvent(QCloseEvent* event)
{
    work_->stop();
    if (underWay() == 0) return QMainWindow::closeEvent(event);
    event->ignore();
    closing_ = true;
    say(tr("What is being judged or filed is finished first; then the window closes."));
}

}  // namespace clendo
