#include "session/work_queue.h"

#include <chrono>
#include <utility>

namespace clendo {

WorkQueue::WorkQueue(std::function<std::optional<std::int64_t>()> alarm) : alarm_(std::move(alarm)), thread_([this] { run(); }) {}

WorkQueue::~WorkQueue()
{
    {
        const std::lock_guard lock(mutex_);
        ends_ = true;
    }
    wake_.notify_one();
    thread_.join();
}

void WorkQueue::add(Work work)
{
    {
        const std::lock_guard lock(mutex_);
        work_.push_back(std::move(work));
    }
    wake_.notify_one();
}

void WorkQueue::run()
{
    const auto mayGoOn = [this] { return ends_ || !work_.empty(); };
    for (;;) {
        const auto due = alarm_();
        std::unique_lock lock(mutex_);
        if (due)
            wake_.wait_for(lock, std::chrono::seconds(*due), mayGoOn);
        else
            wake_.wait(lock, mayGoOn);
        if (work_.empty()) {
            if (ends_) return;
            continue;  // the alarm
        }
        const Work work = std::move(work_.front());
        work_.pop_front();
        lock.unlock();
        work();
    }
}

}  // namespace clendo
