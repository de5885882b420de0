#include "store/job_lock.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <QDateTime>
#include <QFile>
#include <QFileInfo>

namespace clendo {
namespace {

constexpr qint64 settleMs = 2000;  // a lock file is written at once; one that is still empty after this was left behind

QString lockPathOf(const QString& path)
{
    const QString real = QFileInfo(path).canonicalFilePath();
    return (real.isEmpty() ? QFileInfo(path).absoluteFilePath() : real) + QStringLiteral(".lock");
}

/// What stands where the lock file should; empty: a file or nothing.
std::string inTheWay(const QString& lockPath)
{
    struct stat info {};
    if (lstat(QFile::encodeName(lockPath).constData(), &info) != 0 || S_ISREG(info.st_mode)) return {};
    const char* what = S_ISDIR(info.st_mode) ? "a folder" : S_ISLNK(info.st_mode) ? "a link" : "no file";
    return fmt::format("This job can only be read: “{}” is {}, where the lock of the job should be. Remove it, then open the job again.",
                       lockPath.toStdString(), what);
}

JobLock::Answer heldByOther(const QLockFile& lock, const QString& lockPath)
{
    qint64 pid = 0;
    QString host, program;
    if (!lock.getLockInfo(&pid, &host, &program))
        return {nullptr, "This job is being opened by another program at this moment. Here it can only be read; open it again in a moment.", true};
    const QString since = QFileInfo(lockPath).lastModified().toString(QStringLiteral("yyyy-MM-dd HH:mm"));
    if (host.isEmpty() || host == QSysInfo::machineHostName())
        return {nullptr, "This job is open in another window. Here it can only be read; what is filed there shows when you open it again.", false};
    return {
        nullptr,
        fmt::format("This job is open on the computer “{}” since {}. Here it can only be read. If nobody works there any more, take the lock over "
                    "(Job menu).",
                    host.toStdString(), since.toStdString()),
        true};
}

/// An empty or unreadable lock that nobody is writing: left behind by a full disk or a power cut.
bool leftBehind(const QLockFile& lock, const QString& lockPath)
{
    qint64 pid = 0;
    QString host, program;
    return !lock.getLockInfo(&pid, &host, &program) && QFileInfo(lockPath).lastModified().msecsTo(QDateTime::currentDateTime()) > settleMs;
}

}  // namespace

JobLock::Answer JobLock::take(const QString& path)
{
    const QString lockPath = lockPathOf(path);
    if (auto why = inTheWay(lockPath); !why.empty()) return {nullptr, std::move(why), false};
    auto beside = std::make_unique<QLockFile>(lockPath);
    beside->setStaleLockTime(0);  // held as long as the window lives; a lock of a dead process is taken over
    if (!beside->tryLock(0)) {
        if (beside->error() != QLockFile::LockFailedError)
            return {nullptr, "This job can only be read: its folder is write-protected. Copy it to where you may write.", false};
        if (!leftBehind(*beside, lockPath)) return heldByOther(*beside, lockPath);
        QFile::remove(lockPath);
        if (!beside->tryLock(0)) return heldByOther(*beside, lockPath);
    }
    const int file = ::open(QFile::encodeName(path).constData(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (file >= 0 && ::flock(file, LOCK_EX | LOCK_NB) != 0 && errno == EWOULDBLOCK) {
        ::close(file);
        return {
            nullptr,
            "This job is open in another window, under another name of the same file. Here it can only be read; what is filed there shows when you "
            "open it again.",
            false};
    }
    return {std::unique_ptr<JobLock>(new JobLock(std::move(beside), file)), {}, false};
}

bool JobLock::breakOpen(const QString& path)
{
    const QString lockPath = lockPathOf(path);
    return inTheWay(lockPath).empty() && QFile::remove(lockPath);
}

JobLock::~JobLock()
{
    if (file_ >= 0) ::close(file_);
}

}  // namespace clendo
