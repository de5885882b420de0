#include "store/job_file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QUuid>
#include <QVariant>

#include "files/files.h"
#include "store/job_schema.h"
#include "store/sqlite.h"

namespace clendo {
namespace {

constexpr const char* freshEnding = ".new-";

Result<void> fill(const QSqlDatabase& db, std::span<const EntryRecord> entries, const std::set<std::string>& evidence, const EvidenceSource& source,
                  std::set<std::string>& missing)
{
    auto ok = sqlite::run(db, QStringLiteral("PRAGMA application_id = %1").arg(schema::applicationId))
                  .and_then([&] { return sqlite::run(db, QStringLiteral("BEGIN")); })
                  .and_then([&] { return schema::make(db); })
                  .and_then([&] { return schema::append(db, entries); });
    for (const auto& sha : evidence) {
        if (!ok) return ok;
        if (const auto bytes = source(sha))
            ok = schema::addEvidence(db, sha, *bytes);
        else
            missing.insert(sha);
    }
    return ok.and_then([&] { return sqlite::run(db, QStringLiteral("COMMIT")); });
}

/// What a making that was killed left behind.
void removeAbandoned(const QString& path)
{
    constexpr qint64 abandonedAfter = 600;  // seconds: no making takes as long
    const QFileInfo info(path);
    for (const QFileInfo& left : info.dir().entryInfoList({info.fileName() + QLatin1String(freshEnding) + QLatin1Char('*')}, QDir::Files))
        if (left.lastModified().secsTo(QDateTime::currentDateTime()) > abandonedAfter) QFile::remove(left.filePath());
}

}  // namespace

Result<std::set<std::string>> makeJobFile(const QString& path, std::span<const EntryRecord> entries, const std::set<std::string>& evidence,
                                          const EvidenceSource& source, Existing existing)
{
    const auto refused = failure(Error::Code::NotSaved, fmt::format("“{}” exists already. Choose another name for the new job.", path.toStdString()));
    if (existing == Existing::Keep && (QFileInfo::exists(path) || QFileInfo(path).isSymLink())) return refused;
    removeAbandoned(path);
    const QString fresh = path + QLatin1String(freshEnding) + QUuid::createUuid().toString(QUuid::Id128).left(12);
    const QString connection = QUuid::createUuid().toString();
    std::set<std::string> missing;
    auto made = [&]() -> Result<void> {
        const bool open = sqlite::connectTo(connection, fresh, sqlite::Access::Write);
        auto ok = open ? fill(QSqlDatabase::database(connection), entries, evidence, source, missing)
                       : failure(Error::Code::NotSaved,
                                 fmt::format("No job can be made at “{}”. Choose a folder where you may write.", path.toStdString()));
        sqlite::disconnect(connection);
        sqlite::removeEmptyLog(fresh);
        return ok;
    }();
    if (made) made = moveIntoPlace(fresh.toStdString(), path.toStdString(), existing == Existing::Replace);
    if (!made) {
        QFile::remove(fresh);
        QFile::remove(fresh + QStringLiteral("-journal"));
        if (existing == Existing::Keep && QFileInfo::exists(path)) return refused;
        return tl::unexpected(made.error());
    }
    return missing;
}

QString freeNameBeside(const QString& path, const QString& what)
{
    const QFileInfo info(path);
    const QString ending = info.suffix().isEmpty() ? QString() : QLatin1Char('.') + info.suffix();
    for (int n = 1;; ++n) {
        QString name = QStringLiteral("%1 (%2%3)%4").arg(info.completeBaseName(), what, n == 1 ? QString() : QStringLiteral(" %1").arg(n), ending);
        name = info.dir().filePath(name);
        if (!QFileInfo::exists(name)) return name;
    }
}

}  // namespace clendo
