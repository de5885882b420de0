#pragma once
#include <QFutureWatcher>
#include <utility>

namespace clendo {

/// Calls `then` with the result of `future` in the thread of `context`, once there is one; never if `context` is gone by then or the work was
/// cancelled. Not by QFuture::then(context, ...): Qt 6.4 runs that twice where the work ends just as it is added, and crashes.
template <typename T, typename Then>
void whenDone(const QFuture<T>& future, QObject* context, Then then)
{
    auto* watcher = new QFutureWatcher<T>(context);
    QObject::connect(watcher, &QFutureWatcherBase::finished, context, [watcher, then = std::move(then)]() mutable {
        watcher->deleteLater();
        auto done = watcher->future();
        if (!done.isCanceled() && done.isValid()) then(done.takeResult());
    });
    watcher->setFuture(future);
}

}  // namespace clendo
