#pragma once
#include <QObject>
#include <functional>
#include <memory>

#include "record/fold.h"
#include "store/job_store.h"

namespace clendo {

/// A job as it was read: nothing in it belongs to a thread.
struct ReadJob {
    std::unique_ptr<JobStore> store;
    std::vector<Entry> entries;
    GrowingFold fold;
};

/// The open job: its file and what its journal says now. The only place from which the window files facts.
class JobSession : public QObject {
    Q_OBJECT
public:
    explicit JobSession(std::unique_ptr<JobStore> store);
    explicit JobSession(ReadJob job);
    /// The job in this file, read and folded; or why it cannot be opened. Any thread may do it, once there is an application.
    static Result<ReadJob> read(const QString& path);

    [[nodiscard]] const JobState& state() const { return fold_.state(); }
    [[nodiscard]] const std::vector<Entry>& entries() const { return entries_; }
    [[nodiscard]] JobStore& store() { return *store_; }
    [[nodiscard]] QString path() const { return store_->path(); }
    [[nodiscard]] QString who() const { return who_; }
    void setWho(const QString& who) { who_ = who; }

    /// Files a fact; false, and a sentence through said(), where that failed. Then nothing of it is in the job.
    bool file(const Fact& fact, const Evidence* evidence = nullptr);
    /// The same for several facts that rest on one piece of evidence.
    bool file(const std::vector<Fact>& facts, const Evidence* evidence);
    /// Takes the last entry back by a correction. Planning and settings are not taken back this way.
    bool takeBackLast();

    /// To be called now and then: faces age.
    void tick();

    void say(const QString& sentence, bool trouble) { emit said(sentence, trouble); }

signals:
    void changed();
    void said(const QString& sentence, bool trouble);

private:
    std::unique_ptr<JobStore> store_;
    std::vector<Entry> entries_;
    GrowingFold fold_;
    QString who_ = QStringLiteral("technician 1");
};

}  // namespace clendo
