#include "app/frame/intake.h"

#include <QFutureWatcher>
#include <QtConcurrentRun>

namespace clendo {

void Intake::start(std::function<Finish()> work)
{
    auto* watcher = new QFutureWatcher<Finish>(this);
    connect(watcher, &QFutureWatcher<Finish>::finished, this, [this, watcher] {
        watcher->deleteLater();
        watcher->result()();
        emit busyChanged(--busy_);
    });
    emit busyChanged(++busy_);
    watcher->setFuture(QtConcurrent::run(std::move(work)));
}

}  // namespace clendo
