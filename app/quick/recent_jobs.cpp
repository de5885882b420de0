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

QStringList recentJobs()
{
    QStringList out;
    const QStringList jobs = kept().value(key).toStringList();
    for (const QString& job : jobs)
        if (QFileInfo::exists(job)) out << job;
    return out;
}

void rememberJob(const QString& path)
{
    QStringList jobs = recentJobs();
    const QString whole = QFileInfo(path).absoluteFilePath();
    jobs.removeAll(whole);
    jobs.prepend(whole);
    QSettings settings = kept();
    settings.setValue(key, jobs.mid(0, mostJobs));
}

}  // namespace clendo
