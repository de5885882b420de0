#include "app/trace/glance_rows.h"

#include <QFutureWatcher>
#include <QPromise>

#include "app/trace/trace_drawing.h"
#include "otdr/sor_reader.h"
#include "result/guarded.h"

namespace clendo {

const otdr::LevelRow* GlanceRows::row(const TraceShot& shot, const Link& link)
{
    using Made = std::shared_ptr<const otdr::LevelRow>;
    const std::string key = link.id + '\n' + shot.trace;
    const auto [known, isNew] = rows_.try_emplace(key);
    if (!isNew) return known->second.get();
    ++wanted_;
    // the job's thread reads it, a worker makes the row; the link's cable belongs to the state, which may go meanwhile
    const auto bytes = std::make_shared<QPromise<Result<std::string>>>();
    bytes->start();
    auto* watcher = new QFutureWatcher<Made>(this);
    connect(watcher, &QFutureWatcher<Made>::finished, this, [this, watcher, key] {
        watcher->deleteLater();
        rows_[key] = watcher->result();
        unreadable_ += rows_[key] ? 0 : 1;
        ++done_;
        emit came();
    });
    watcher->setFuture(bytes->future().then(&session_.workers(), [shot, cable = *link.cable, link](const Result<std::string>& came) {
        Link own = link;
        own.cable = &cable;
        const auto made = guarded([&]() -> Result<Made> {
            return came.and_then([&](const std::string& text) { return otdr::readSor(text, shot.traceName); }).map([&](const otdr::Trace& trace) {
                return std::make_shared<const otdr::LevelRow>(levelRow({trace, shot}, own));
            });
        });
        return made.value_or(nullptr);
    }));
    session_.service().evidence(shot.trace, [bytes](const Result<std::string>& result) {
        bytes->addResult(result);
        bytes->finish();
    });
    return nullptr;
}

}  // namespace clendo
