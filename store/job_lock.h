#pragma once
#include <QLockFile>
#include <QString>
#include <memory>

namespace clendo {

/// That this program alone writes a job: a lock file beside the file that the path leads to (so that a symbolic link locks the same job), and the
/// kernel's lock on the file itself (so that a hard link does). Both are gone with the program.
class JobLock {
public:
    struct Answer {
        std::unique_ptr<JobLock> lock;  ///< nothing: the job can only be read, because
        std::string why;
        bool canBeTakenOver = false;  ///< a person who knows that nobody works there may say so
    };
    /// Never waits.
    static Answer take(const QString& path);
    /// Removes the lock file of another computer that does not work on the job any more; false where it cannot be removed.
    static bool breakOpen(const QString& path);

    ~JobLock();
    JobLock(const JobLock&) = delete;
    JobLock& operator=(const JobLock&) = delete;

private:
    JobLock(std::unique_ptr<QLockFile> beside, int file) : beside_(std::move(beside)), file_(file) {}

    std::unique_ptr<QLockFile> beside_;
    int file_;  ///< open as long as the lock is held: closing it would let go of SQLite's own locks
};

}  // namespace clendo
