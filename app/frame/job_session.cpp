#include "app/frame/job_session.h"

#include <QCoreApplication>
#include <QPointer>
#include <QtConcurrentRun>

#include "app/widgets/when_done.h"
#include "files/files.h"
#include "files/log_file.h"
#include "record/state/rules.h"

namespace clendo {

std::vector<Signature> signaturesOf(const JobSnapshot& job, const EvidenceSource& evidence, const std::string& subject)
{
    return signaturesIn(job.journal.all(), *job.state, Rules(dataFolder()), evidence, subject);
}

JobSession::JobSession(ReadJob job)
{
    JobService::Listener listener;
    listener.changed = [this](const JobSnapshot& snapshot) {
        const std::lock_guard lock(mutex_);
        Changes changes = std::exchange(latest_.changes, {});
        latest_ = snapshot;
        if (taking_) {  // the one before was not taken yet
            changes.add(snapshot.changes);
            latest_.changes = std::move(changes);
        }
        if (!std::exchange(taking_, true))
            QMetaObject::invokeMethod(
                this, [this] { take(); }, Qt::QueuedConnection);
    };
    listener.said = [this](const std::string& sentence, bool trouble) {
        const auto words = QString::fromStdString(sentence);
        QMetaObject::invokeMethod(
            this, [this, words, trouble] { emit said(words, trouble); }, Qt::QueuedConnection);
    };
    service_ = std::make_unique<JobService>(std::move(job), std::move(listener));
    evidence_ = std::make_unique<EvidenceCache>(*service_);
    shown_ = service_->snapshot();
}

JobSession::~JobSession()
{
    workers_.waitForDone();  // they read evidence of this job
    evidence_.reset();
    service_.reset();
}

void JobSession::take()
{
    {
        const std::lock_guard lock(mutex_);
        taking_ = false;
        if (latest_.number <= shown_.number) return;
        shown_ = latest_;
    }
    emit changed();
}

void JobSession::settle()
{
    do {
        service_->settle();
        QCoreApplication::sendPostedEvents(this, QEvent::MetaCall);
    } while (underWay_ > 0);
}

JobService::Then<void> JobSession::filed(Then then, QObject* context, Then otherwise)
{
    return here<void>([then = std::move(then), otherwise = std::move(otherwise), asked = context != nullptr,
                       context = QPointer<QObject>(context)](const Result<void>& result) {
        const Then& next = result ? then : otherwise;
        if (next && (!asked || context)) next();
    });
}

void JobSession::file(Filing filing, Then then, QObject* context, Then otherwise)
{
    service_->post(who_.toStdString(), std::move(filing), filed(std::move(then), context, std::move(otherwise)));
}

void JobSession::file(JobService::Making making, Then then, Then otherwise)
{
    service_->post(who_.toStdString(), std::move(making), filed(std::move(then), nullptr, std::move(otherwise)));
}

void JobSession::sign(const std::string& subject, const std::string& remark, Then then)
{
    service_->sign(who_.toStdString(), subject, remark, filed(std::move(then), nullptr, {}));
}

void JobSession::takeBackLast()
{
    service_->takeBackLast(who_.toStdString(), here<std::string>([this](const Result<std::string>& sentence) {
                               if (sentence) emit said(QString::fromStdString(*sentence), false);
                           }));
}

void JobSession::joinAgain(std::function<void(const QString& file)> then)
{
    service_->joinAgain(here<QString>([then = std::move(then)](const Result<QString>& file) {
        if (file) then(*file);
    }));
}

void JobSession::findSignatures(const std::string& subject, QObject* context, std::function<void(const std::vector<Signature>&)> then)
{
    using Found = std::vector<Signature>;
    const auto work = QtConcurrent::run(&workers_, [job = snapshot(), evidence = service_->evidenceSource(), subject] {
        return guardedResult([&] { return signaturesOf(job, evidence, subject); }).value_or(Found());
    });
    whenDone(work, context, std::move(then));
}

void JobSession::say(const Error& error)
{
    programLog().write(error);
    emit said(QString::fromStdString(error.message), true);
}

std::int64_t JobSession::believedTime(std::int64_t stamp, std::int64_t otherwise) const
{
    const bool believed = !entries().empty() && stamp >= entries().front().happened && stamp <= timeOfDay();
    return believed ? stamp : otherwise;
}

}  // namespace clendo
