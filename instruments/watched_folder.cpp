#include "instruments/watched_folder.h"

#include <QDir>
#include <QFileInfo>

namespace clendo {
namespace {

constexpr int settleMs = 120;  // a file whose size is the same twice this far apart is taken as written

}  // namespace

WatchedFolder::WatchedFolder(QObject* parent) : QObject(parent)
{
    settle_.setInterval(settleMs);
    connect(&settle_, &QTimer::timeout, this, &WatchedFolder::lookAround);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this] { settle_.start(); });
}

void WatchedFolder::watch(const QString& folder)
{
    if (!watcher_.directories().isEmpty()) watcher_.removePaths(watcher_.directories());
    folder_ = folder;
    told_.clear();
    growing_.clear();
    const auto here = QDir(folder).entryList(QDir::Files);
    for (const QString& name : here) told_.insert(name);
    watcher_.addPath(folder);
}

void WatchedFolder::lookAround()
{
    const QDir dir(folder_);
    if (!dir.exists()) return;
    if (!watcher_.directories().contains(folder_)) watcher_.addPath(folder_);
    bool waiting = false;
    const auto names = dir.entryList(QDir::Files, QDir::Time | QDir::Reversed);
    for (const QString& name : names) {
        if (told_.contains(name) || name.startsWith(QLatin1Char('.')) || name.endsWith(QLatin1String(".part"))) continue;
        const qint64 size = QFileInfo(dir.filePath(name)).size();
        if (size > 0 && growing_.value(name, -1) == size) {
            told_.insert(name);
            growing_.remove(name);
            emit arrived(dir.filePath(name));
        } else {
            growing_[name] = size;
            waiting = true;
        }
    }
    if (!waiting) settle_.stop();
}

}  // namespace clendo
