#pragma once
#include <QDateTime>
#include <QString>
#include <vector>

namespace clendo {

struct RecentJob {
    QString path;
    QDateTime changed;
};

// They read and write files: for a worker.

/// The jobs that were opened last, the newest first; those that are gone are left out.
std::vector<RecentJob> recentJobs();
/// Puts a job at the front of them.
void rememberJob(const QString& path);

}  // namespace clendo
