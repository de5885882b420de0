#pragma once
#include <functional>
#include <future>
#include <memory>
#include <mutex>
#include <string>

#include "result/guarded.h"
#include "session/job_engine.h"
#include "session/work_queue.h"

namespace clendo {

/// An open job. What is done goes in by post() and its like, which wait for nothing; what is known comes out as snapshots that never change. Journal,
/// fold, clock and file live in one thread of its own; every member may be called from any thread. Who goes on after something was posted gives
/// `then`, or waits for the future; both come after the snapshot that it led to.
class JobService {
public:
    template <class T>
    using Then = std::function<void(const Result<T>&)>;
    /// Makes what is filed from what is known when its turn comes: no fact of somebody else can come between.
    using Making = std::function<Result<Filing>(const JobState& now)>;
    struct Listener {
        std::function<void(const JobSnapshot&)> changed;  ///< in the job's thread
        std::function<void(const std::string& sentence, bool trouble)>
            said;  ///< there too; what went wrong with something posted is told by its result
    };

    explicit JobService(ReadJob job, Listener listener = {}, Clock clock = timeOfDay);
    /// Does what was posted before.
    ~JobService();
    JobService(const JobService&) = delete;
    JobService& operator=(const JobService&) = delete;

    /// The job as it is; what was posted and did not have its turn yet is not in it.
    [[nodiscard]] JobSnapshot snapshot() const;

    std::future<Result<void>> post(std::string who, Filing filing, Then<void> then = {});
    std::future<Result<void>> post(std::string who, Making making, Then<void> then = {});
    /// Files a signature with what it stands for, as evidence. `remark`: why, where something is missing.
    std::future<Result<void>> sign(std::string who, std::string subject, std::string remark, Then<void> then = {});
    /// Takes the last act of this person on this computer back, whole, by corrections; gives what to say of it.
    std::future<Result<std::string>> takeBackLast(std::string who, Then<std::string> then = {});
    /// Puts a rescue copy together with its file again and gives the file's path.
    std::future<Result<QString>> joinAgain(Then<QString> then = {});
    /// The bytes of a picture, trace or signed record as they came.
    std::future<Result<std::string>> evidence(std::string sha256, Then<std::string> then = {});
    /// The same for worker threads, which may wait. Holds as long as the service.
    [[nodiscard]] EvidenceSource evidenceSource();
    /// Work with the store in its thread: checks, copies of the job.
    template <class T>
    std::future<Result<T>> withStore(std::function<Result<T>(JobStore&)> work, Then<T> then = {})
    {
        return run<T>([work = std::move(work)](JobEngine& engine) { return work(engine.store()); }, std::move(then));
    }
    /// Waits until all that was posted before is done.
    void settle();

private:
    template <class T>
    std::future<Result<T>> run(std::function<Result<T>(JobEngine&)> work, Then<T> then);
    void take(const JobSnapshot& snapshot);

    Listener listener_;
    mutable std::mutex mutex_;  ///< of the snapshot
    JobSnapshot snapshot_;
    JobEngine engine_;
    WorkQueue queue_;  ///< the last: it ends first
};

template <class T>
std::future<Result<T>> JobService::run(std::function<Result<T>(JobEngine&)> work, Then<T> then)
{
    auto promise = std::make_shared<std::promise<Result<T>>>();
    auto out = promise->get_future();
    queue_.add([this, promise, work = std::move(work), then = std::move(then)] {
        const Result<T> result = guarded([&] { return work(engine_); });
        if (then) then(result);
        promise->set_value(result);
    });
    return out;
}

}  // namespace clendo
