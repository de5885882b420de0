#include "store/sqlite.h"

#include <QFile>
#include <QFileInfo>
#include <QUrl>
#include <QVariant>

namespace clendo::sqlite {
namespace {

QString readOnlyAddress(const QString& path, bool immutable)
{
    const QString encoded = QString::fromLatin1(QUrl::toPercentEncoding(QFileInfo(path).absoluteFilePath(), "/"));
    return QStringLiteral("file:%1?mode=ro%2").arg(encoded, immutable ? QStringLiteral("&immutable=1") : QString());
}

}  // namespace

Error errorOf(const QSqlError& error)
{
    const std::string detail = error.text().toStdString();
    bool known = false;
    const int code = error.nativeErrorCode().toInt(&known);
    switch (known ? code & 0xFF : 0) {  // SQLite's extended codes hold the plain one in their lowest byte
        case 13:                        // SQLITE_FULL
            return {Error::Code::DiskFull, "Not saved: the disk is full. What was filed before is safe. Free some space and do it again.", detail};
        case 8:  // SQLITE_READONLY
            return {Error::Code::JobReadOnly, "Not saved: the job can only be read. Copy it to a place where you may write.", detail};
        case 5:  // SQLITE_BUSY
            return {Error::Code::JobInUse, "Not saved: another program holds the job. Close it there and do it again.", detail};
        case 11:  // SQLITE_CORRUPT
        case 26:  // SQLITE_NOTADB
            return {Error::Code::JobDamaged, "Not saved: the job file is damaged. Save what is left of it (Job menu) and go on there.", detail};
        default:
            return {Error::Code::NotSaved,
                    "Not saved: the job file could not be written. What was filed before is safe. Check the drive and do it again.", detail};
    }
}

Result<void> run(QSqlQuery& query)
{
    if (query.exec()) return {};
    return tl::unexpected(errorOf(query.lastError()));
}

Result<void> run(const QSqlDatabase& db, const QString& statement)
{
    QSqlQuery query(db);
    if (query.exec(statement)) return {};
    return tl::unexpected(errorOf(query.lastError()));
}

QVariant valueOf(const QSqlDatabase& db, const QString& query)
{
    QSqlQuery q(db);
    return q.exec(query) && q.next() ? q.value(0) : QVariant();
}

bool connectTo(const QString& connection, const QString& path, Access access)
{
    disconnect(connection);
    QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), connection);
    db.setDatabaseName(access == Access::Write ? path : readOnlyAddress(path, access == Access::ReadAsItStands));
    db.setConnectOptions(access == Access::Write ? QStringLiteral("QSQLITE_BUSY_TIMEOUT=2000")
                                                 : QStringLiteral("QSQLITE_OPEN_URI;QSQLITE_OPEN_READONLY;QSQLITE_BUSY_TIMEOUT=2000"));
    if (!db.open() || !QSqlQuery(db).exec(QStringLiteral("SELECT count(*) FROM sqlite_master"))) return false;
    if (access != Access::Write) return true;
    // One file, no log beside it: a job that is copied while nothing is written is whole. What is acknowledged is on the disk. A job of schema 1 that
    // others read has its log still: it is not written, but carried over.
    (void)QSqlQuery(db).exec(QStringLiteral("PRAGMA journal_mode = TRUNCATE"));
    return QSqlQuery(db).exec(QStringLiteral("PRAGMA synchronous = FULL"));
}

void removeEmptyLog(const QString& path)
{
    const QFileInfo log(path + QStringLiteral("-journal"));
    if (log.isFile() && log.size() == 0) QFile::remove(log.filePath());
}

void disconnect(const QString& connection)
{
    if (!QSqlDatabase::contains(connection)) return;
    QSqlDatabase::database(connection, false).close();
    QSqlDatabase::removeDatabase(connection);
}

}  // namespace clendo::sqlite
