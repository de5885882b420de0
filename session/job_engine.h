#pragma once
#include <functional>
#include <memory>
#include <optional>

#include "record/fold/growing_fold.h"
#include "record/fold/signatures.h"
#include "session/job_snapshot.h"
#include "store/job_store.h"

namespace clendo {

/// Microseconds since 1970-01-01 UTC.
std::int64_t timeOfDay();

/// The time of day, microseconds since 1970-01-01 UTC; 0: nobody knows it, and nothing ages.
using Clock = std::function<std::int64_t()>;
inline std::int64_t noClock() { return 0; }

/// A job as it was read: nothing in it belongs to a thread.
struct ReadJob {
    std::unique_ptr<JobStore> store;
    EntryLog journal;
    GrowingFold fold;
};
/// The job in this file, read and folded; or why it cannot be opened. Any thread may do it, once there is an application. `Read` locks and changes
/// nothing.
Result<ReadJob> readJob(const QString& path, JobStore::Access access = JobStore::Access::Write, const Clock& clock = timeOfDay);
/// A new job with these settings.
Result<ReadJob> createJob(const QString& path, const JobSettings& settings, const std::string& who);

/// What a person does: the facts of it with their evidence.
struct Filing {
    std::vector<Fact> facts;
    std::vector<Evidence> evidence;
    std::int64_t happened = 0;  ///< when it was done, timeOfDay(); 0: now
};

/// What a job is to be told, and to tell, in one thread: journal, fold and clock. The session's own; others use a JobService.
class JobEngine {
public:
    /// A sentence for the person, and whether it tells of trouble.
    using Said = std::function<void(const std::string& sentence, bool trouble)>;

    JobEngine(ReadJob job, Clock clock, std::function<void(const JobSnapshot&)> published, Said said);

    [[nodiscard]] JobSnapshot snapshot();
    [[nodiscard]] const JobState& state() const { return fold_.state(); }
    /// Files what a person did; on Error nothing of it is in the job.
    Result<void> file(Filing filing, const std::string& who);
    Result<void> sign(const std::string& subject, const std::string& remark, const std::string& who);
    /// Takes the last act of this person on this computer back, whole, by corrections; gives what to say of it.
    Result<std::string> takeBackLast(const std::string& who);
    /// Puts a rescue copy together with its file again and gives the file's path; says what is in the way.
    Result<QString> joinAgain();
    /// The clock went on; and others may have filed something. Gives the seconds until it is worth while again; nothing: not before something is
    /// filed.
    std::optional<std::int64_t> tick();
    [[nodiscard]] JobStore& store() { return *store_; }

private:
    Result<void> append(const Act& act, std::span<const Evidence> evidence);
    Result<void> goOnInRescueCopy(const std::string& who);
    void keepRules(const Act& act);
    void takeIn();
    void fold();
    void noteFile();
    void publish();
    [[nodiscard]] std::int64_t seconds() const { return clock_() / 1'000'000; }

    std::unique_ptr<JobStore> store_;
    EntryLog journal_;
    GrowingFold fold_;
    Clock clock_;
    std::function<void(const JobSnapshot&)> published_;
    Said said_;
    QString rescuedFrom_;
    std::shared_ptr<const JobFile> file_;
    Changes changes_;
    StoreCursor cursor_;
    std::uint64_t number_ = 0;
};

}  // namespace clendo
