#include "session/job_service.h"

namespace clendo {

JobService::JobService(ReadJob job, Listener listener, Clock clock)
    : listener_(std::move(listener)),
      engine_(
          std::move(job), std::move(clock), [this](const JobSnapshot& s) { take(s); },
          [this](const std::string& sentence, bool trouble) {
              if (listener_.said) listener_.said(sentence, trouble);
          }),
      queue_([this] { return guardedResult([this] { return engine_.tick(); }).value_or(std::nullopt); })
{
    run<void>(
        [this](JobEngine& engine) {
            const std::lock_guard lock(mutex_);
            if (!snapshot_.state) snapshot_ = engine.snapshot();
            snapshot_.changes.all = true;
            return Result<void>();
        },
        {})
        .wait();  // there is a snapshot before anybody can ask
}

JobService::~JobService()
{
    queue_.add([this] { engine_.store().handOver(); });  // the connection belongs to that thread
}

void JobService::take(const JobSnapshot& snapshot)
{
    {
        const std::lock_guard lock(mutex_);
        snapshot_ = snapshot;
    }
    if (listener_.changed) listener_.changed(snapshot);
}

JobSnapshot JobService::snapshot() const
{
    const std::lock_guard lock(mutex_);
    return snapshot_;
}

std::future<Result<void>> JobService::post(std::string who, Filing filing, Then<void> then)
{
    const auto shared = std::make_shared<Filing>(std::move(filing));  // it goes once
    return run<void>([shared, who = std::move(who)](JobEngine& engine) { return engine.file(std::move(*shared), who); }, std::move(then));
}

std::future<Result<void>> JobService::post(std::string who, Making making, Then<void> then)
{
    return run<void>(
        [making = std::move(making), who = std::move(who)](JobEngine& engine) {
            return making(engine.state()).and_then([&](Filing filing) { return engine.file(std::move(filing), who); });
        },
        std::move(then));
}

std::future<Result<void>> JobService::sign(std::string who, std::string subject, std::string remark, Then<void> then)
{
    return run<void>([=](JobEngine& engine) { return engine.sign(subject, remark, who); }, std::move(then));
}

std::future<Result<std::string>> JobService::takeBackLast(std::string who, Then<std::string> then)
{
    return run<std::string>([who = std::move(who)](JobEngine& engine) { return engine.takeBackLast(who); }, std::move(then));
}

std::future<Result<QString>> JobService::joinAgain(Then<QString> then)
{
    return run<QString>([](JobEngine& engine) { return engine.joinAgain(); }, std::move(then));
}

std::future<Result<std::string>> JobService::evidence(std::string sha256, Then<std::string> then)
{
    return run<std::string>([sha256 = std::move(sha256)](JobEngine& engine) { return engine.store().evidence(sha256); }, std::move(then));
}

EvidenceSource JobService::evidenceSource()
{
    return [this](const std::string& sha256) { return evidence(sha256).get(); };
}

void JobService::settle()
{
    run<void>([](JobEngine&) { return Result<void>(); }, {}).wait();
}

}  // namespace clendo
