#include "app/quick/recent_jobs.h"

#include <QFileInfo>
#include <QSettings>

#include "files/log_file.h"

namespace clendo {
namespace {

constexpr qsizetype mostJobs = 4;
const QString key = QStringLiteral("jobs");

QSettings kept() { return QSettings(QString::fromStdString((stateFolder() / "recent.ini").string()), QSettings::IniFormat); }

}  // namespace

std::vector<RecentJob> recentJobs()
{
    std::vector<RecentJob> out;
    const QStringList jobs = kept().value(key).toStringList();
    for (const QString& job : jobs)
        if (const QFileInfo file(job); file.exists()) out.push_back({job, file.lastModified()});
    return out;
}

void rememberJob(const QString& path)
{
    const QString whole = QFileInfo(path).absoluteFilePath();
    QStringList jobs{whole};
    for (const RecentJob& job : recentJobs())
        if (job.path != whole) jobs << job.path;
    QSettings settings = kept();
    settings.setValue(key, jobs.mid(0, mostJobs));
}

}  // namespace clendo
