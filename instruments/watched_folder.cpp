#include "instruments/watched_folder.h"

#include <QDateTime>
#include <QDir>
#include <QFileInfo>

namespace clendo {
namespace {

constexpr int settleMs = 120;   // a file that is the same twice this far apart is taken as written
constexpr int againMs = 400;    // a folder does not tell when a file in it is written over
constexpr int askedAgain = 50;  // files

}  // namespace

WatchedFolder::WatchedFolder(QObject* parent) : QObject(parent)
{
    settle_.setInterval(settleMs);
    again_.setInterval(againMs);
    connect(&settle_, &QTimer::timeout, this, &WatchedFolder::lookAround);
    connect(&again_, &QTimer::timeout, this, &WatchedFolder::lookAtTold);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this] { settle_.start(); });
}

void WatchedFolder::watch(const QString& folder)
{
    if (!watcher_.directories().isEmpty()) watcher_.removePaths(watcher_.directories());
    folder_ = folder;
    told_.clear();
    growing_.clear();
    newest_.clear();
    const auto here = QDir(folder).entryInfoList(QDir::Files, QDir::Time);
    for (const QFileInfo& file : here) {
        told_.insert(file.fileName(), {file.size(), file.lastModified().toMSecsSinceEpoch()});
        if (newest_.size() < askedAgain) newest_ << file.fileName();
    }
    watcher_.addPath(folder);
    again_.start();
}

void WatchedFolder::lookAtTold()
{
    for (const QString& name : std::as_const(newest_)) {
        const QFileInfo file(QDir(folder_).filePath(name));
        if (file.exists() && told_.value(name) != Stamp{file.size(), file.lastModified().toMSecsSinceEpoch()}) return settle_.start();
    }
}

void WatchedFolder::lookAround()
{
    const QDir dir(folder_);
    if (!dir.exists()) return;
    if (!watcher_.directories().contains(folder_)) watcher_.addPath(folder_);
    bool waiting = false;
    const auto files = dir.entryInfoList(QDir::Files, QDir::Time | QDir::Reversed);
    for (const QFileInfo& file : files) {
        const QString name = file.fileName();
        const Stamp now{file.size(), file.lastModified().toMSecsSinceEpoch()};
        if (told_.value(name) == now || name.startsWith(QLatin1Char('.')) || name.contains(QLatin1String(".part"))) continue;
        if (now.size > 0 && growing_.value(name) == now) {
            told_[name] = now;
            growing_.remove(name);
            newest_.removeAll(name);
            newest_.prepend(name);
            while (newest_.size() > askedAgain) newest_.removeLast();
            emit arrived(file.filePath());
        } else {
            growing_[name] = now;
            waiting = true;
        }
    }
    if (!waiting) settle_.stop();
}

}  // namespace clendo
