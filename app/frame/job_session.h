#pragma once
#include <QObject>
#include <QThreadPool>
#include <functional>
#include <memory>
#include <span>

#include "record/advice/filed.h"
#include "record/fold/signatures.h"
#include "session/evidence_cache.h"
#include "session/job_service.h"

namespace clendo {

/// The open job as the window knows it: what its service told last, and the way in for what the window files. Nothing here waits for the file.
class JobSession : public QObject {
    Q_OBJECT
public:
    /// What goes on when something was filed, after changed(); not, where it failed or `context` is gone by then.
    using Then = std::function<void()>;

    explicit JobSession(ReadJob job);
    ~JobSession() override;

    /// The job as it was told last. It changes between two events only; who shows a dialog meanwhile keeps a copy.
    [[nodiscard]] const JobSnapshot& snapshot() const { return shown_; }
    [[nodiscard]] const JobState& state() const { return *shown_.state; }
    [[nodiscard]] std::span<const Entry> entries() const { return shown_.journal.all(); }
    [[nodiscard]] const JobFile& jobFile() const { return *shown_.file; }
    [[nodiscard]] QString path() const { return jobFile().path; }
    [[nodiscard]] QString who() const { return who_; }
    void setWho(const QString& who) { who_ = who; }
    [[nodiscard]] JobService& service() { return *service_; }
    /// Pictures and traces, read and decoded in the background.
    [[nodiscard]] EvidenceCache& evidence() { return *evidence_; }

    /// Files what a person did; where that fails a sentence comes through said(), nothing of it is in the job, and `otherwise` goes on.
    void file(Filing filing, Then then = {}, QObject* context = nullptr, Then otherwise = {});
    void file(const Fact& fact, Then then = {}, QObject* context = nullptr) { file(Filing{{fact}, {}, 0}, std::move(then), context); }
    void file(std::vector<Fact> facts, Then then = {}, QObject* context = nullptr)
    {
        file(Filing{std::move(facts), {}, 0}, std::move(then), context);
    }
    /// The same for what follows from the job as it is when its turn comes.
    void file(JobService::Making making, Then then = {}, Then otherwise = {});
    /// Files a signature with what it stands for, as evidence. `remark`: why, where something is missing.
    void sign(const std::string& subject, const std::string& remark, Then then);
    /// Takes the last act back, whole: that of who works here, on this computer.
    void takeBackLast();
    /// Puts a rescue copy together with its file again; `then` gets the file.
    void joinAgain(std::function<void(const QString& file)> then);
    /// Work with the store, in the job's thread; `then` gets what it gave.
    template <class T>
    void withStore(std::function<Result<T>(JobStore&)> work, std::function<void(const T&)> then)
    {
        service_->withStore<T>(std::move(work), here<T>([then = std::move(then)](const Result<T>& out) {
                                   if (out) then(*out);
                               }));
    }
    /// The time that a file says it was made at, microseconds since 1970-01-01 UTC, where that can be: not before the job began, not still to come.
    /// Else `otherwise`: a clock is wrong, or there is none.
    [[nodiscard]] std::int64_t believedTime(std::int64_t stamp, std::int64_t otherwise) const;
    /// Finds the signatures of a link and its cable, or of a cable and its links, and what overtook them.
    void findSignatures(const std::string& subject, QObject* context, std::function<void(const std::vector<Signature>&)> then);
    /// For longer work with this job's evidence, which is waited for when the job is closed.
    [[nodiscard]] QThreadPool& workers() { return workers_; }
    /// What was asked of the job and is not told yet.
    [[nodiscard]] int underWay() const { return underWay_; }
    /// Waits until nothing is under way: for tests.
    void settle();

    void say(const QString& sentence, bool trouble) { emit said(sentence, trouble); }
    /// An error goes into the log too, with its detail.
    void say(const Error& error);
    void say(const Said& said) { say(QString::fromStdString(said.sentence), said.trouble); }

signals:
    void changed();
    /// Something that was under way is done, or has failed.
    void told();
    void said(const QString& sentence, bool trouble);

private:
    /// Goes on in the window's thread, after an error was said.
    template <class T>
    JobService::Then<T> here(JobService::Then<T> then)
    {
        ++underWay_;
        return [this, then = std::move(then)](const Result<T>& result) {
            QMetaObject::invokeMethod(
                this,
                [this, then, result] {
                    if (!result) say(result.error());
                    then(result);
                    --underWay_;
                    emit told();
                },
                Qt::QueuedConnection);
        };
    }
    JobService::Then<void> filed(Then then, QObject* context, Then otherwise);
    void take();

    std::mutex mutex_;  ///< of what the job's thread tells
    JobSnapshot latest_;
    bool taking_ = false;  ///< latest_ is newer than shown_, and an event will say so
    JobSnapshot shown_;
    int underWay_ = 0;
    QString who_ = QStringLiteral("technician 1");
    std::unique_ptr<JobService> service_;
    std::unique_ptr<EvidenceCache> evidence_;
    QThreadPool workers_;
};

/// The signatures of a subject as of a snapshot; for worker threads.
std::vector<Signature> signaturesOf(const JobSnapshot& job, const EvidenceSource& evidence, const std::string& subject);

}  // namespace clendo
