#pragma once
#include <condition_variable>
#include <cstdint>
#include <deque>
#include <functional>
#include <mutex>
#include <optional>
#include <thread>

namespace clendo {

/// One thread that does one thing after the other, and something by itself when it is time.
class WorkQueue {
public:
    using Work = std::function<void()>;
    /// `alarm` is done when the time that it was set to has come, and once at the beginning; gives the seconds until it is due again, nothing: not
    /// before other work was done. It is asked anew after every piece of work.
    explicit WorkQueue(std::function<std::optional<std::int64_t>()> alarm);
    /// Does what was given to it before.
    ~WorkQueue();
    WorkQueue(const WorkQueue&) = delete;
    WorkQueue& operator=(const WorkQueue&) = delete;

    /// From any thread.
    void add(Work work);

private:
    void run();

    std::function<std::optional<std::int64_t>()> alarm_;
    std::mutex mutex_;
    std::condition_variable wake_;
    std::deque<Work> work_;
    bool ends_ = false;
    std::thread thread_;  ///< the last: it begins when all else is there
};

}  // namespace clendo
