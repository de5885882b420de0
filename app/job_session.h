#pragma once
#include <QObject>
#include <memory>

#include "record/output/signatures.h"
#include "record/state/growing_fold.h"
#include "store/job_store.h"

namespace clendo {

/// A job as it was read: nothing in it belongs to a thread.
struct ReadJob {
    std::unique_ptr<JobStore> store;
    std::vector<Entry> entries;
    GrowingFold fold;
};

/// Microseconds since 1970-01-01 UTC.
std::int64_t timeOfDay();

/// The open job: its file and what its journal says now. The only place from which the window files facts.
class JobSession : public QObject {
    Q_OBJECT
public:
    explicit JobSession(ReadJob job);
    /// The job in this file, read and folded; or why it cannot be opened. Any thread may do it, once there is an application.
    static Result<ReadJob> read(const QString& path);
    /// A new job with these settings.
    static Result<ReadJob> create(const QString& path, const JobSettings& settings, const QString& who);

    [[nodiscard]] const JobState& state() const { return fold_.state(); }
    [[nodiscard]] const std::vector<Entry>& entries() const { return entries_; }
    [[nodiscard]] JobStore& store() { return *store_; }
    [[nodiscard]] QString path() const { return store_->path(); }
    [[nodiscard]] QString who() const { return who_; }
    void setWho(const QString& who) { who_ = who; }

    /// Files a fact; false, and a sentence through said(), where that failed. Then nothing of it is in the job.
    bool file(const Fact& fact, std::span<const Evidence> evidence = {});
    /// The same for all facts of one act. `happened`: when it was done, timeOfDay(); 0: now.
    bool file(std::vector<Fact> facts, std::span<const Evidence> evidence = {}, std::int64_t happened = 0);
    /// The time that a file says it was made at, microseconds since 1970-01-01 UTC, where that can be: not before the job began, not still to come.
    /// Else `otherwise`: a clock is wrong, or there is none.
    [[nodiscard]] std::int64_t believedTime(std::int64_t stamp, std::int64_t otherwise) const;
    /// Files a signature with what it stands for, as evidence. `remark`: why, where something is missing.
    bool sign(const std::string& subject, const std::string& remark);
    /// The signatures of a link and its cable, or of a cable and its links, and what overtook them.
    [[nodiscard]] std::vector<Signature> signatures(const std::string& subject) const;
    /// Takes the last act back, whole, by corrections: that of who works here, on this computer.
    bool takeBackLast();

    /// Where the job's file was before it was lost under the open window and a rescue copy took its place; empty: it is where it was.
    [[nodiscard]] QString rescuedFrom() const { return rescuedFrom_; }
    /// Puts the rescue copy together with its file again and gives the file's path; says what is in the way.
    Result<QString> joinAgain();

    /// To be called now and then: faces age.
    void tick();

    void say(const QString& sentence, bool trouble) { emit said(sentence, trouble); }
    /// An error goes into the log too, with its detail.
    void say(const Error& error);

signals:
    void changed();
    void said(const QString& sentence, bool trouble);

private:
    Result<void> fileAct(const Act& act, std::span<const Evidence> evidence);
    Result<void> goOnInRescueCopy();
    void keepRules(const Act& act);

    std::unique_ptr<JobStore> store_;
    std::vector<Entry> entries_;
    GrowingFold fold_;
    QString who_ = QStringLiteral("technician 1"), rescuedFrom_;
};

}  // namespace clendo
