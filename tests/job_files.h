#pragma once
#include <QFile>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QString>
#include <QVariant>

#include "files/files.h"
#include "record/state/complete_act.h"
#include "store/save_job.h"

/// Job files to test with.
namespace clendo {

constexpr std::int64_t second = 1'000'000, someDay = 1'794'902'400 * second;

inline FaceSeen lookAt(const std::string& sha, int fibre = 1)
{
    return {{"VP-04/" + std::to_string(fibre), End::A, Side::Cord}, sha, "a.png", {}, {}};
}

inline Act actOf(std::vector<Fact> facts, std::int64_t at = someDay, const char* who = "technician 1") { return {who, std::move(facts), at, at}; }

inline Act founding()
{
    JobSettings job;
    job.name = "Varrow Point";
    return actOf(settingFacts(job));
}

/// A job with so many looks, each with a picture of its own.
inline std::unique_ptr<JobStore> jobWith(const QString& path, int looks, int bytes = 3000)
{
    auto store = JobStore::create(path, founding()).value();
    for (int n = 1; n <= looks; ++n) {
        const Evidence picture{"a.png", std::string(static_cast<std::size_t>(bytes), static_cast<char>('a' + n % 26)) + std::to_string(n)};
        if (!store->append(actOf({lookAt(sha256(picture.bytes), n)}, someDay + n * second), std::span(&picture, 1))) return nullptr;
    }
    return store;
}

/// Runs SQL on a closed job file, as another program could; statements are parted by ";; ".
inline bool meddle(const QString& path, const QString& sql)
{
    bool ok = false;
    {
        QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "meddler");
        db.setDatabaseName(path);
        ok = db.open();
        for (const QString& statement : sql.split(";; ")) ok = ok && QSqlQuery(db).exec(statement);
        db.close();
    }
    QSqlDatabase::removeDatabase("meddler");
    return ok;
}

/// All that is in the tables of a file, and how they are made; nothing where SQLite cannot read all of it.
inline std::optional<QByteArray> tablesOf(const QString& path)
{
    std::optional<QByteArray> out = QByteArray();
    {
        QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "reader");
        db.setDatabaseName(path);
        db.setConnectOptions("QSQLITE_OPEN_READONLY");
        for (const char* table : {"sqlite_master", "meta", "journal", "heads", "evidence"}) {
            QSqlQuery q(db);
            const bool begun = db.open() && q.exec(QStringLiteral("SELECT * FROM %1 ORDER BY 1, 2").arg(QLatin1String(table)));
            while (begun && out && q.next())
                for (int i = 0; !q.value(i).isNull() || i < 11; ++i) *out += q.value(i).toByteArray() + q.value(i).typeName() + '|';
            if (!begun || q.lastError().isValid()) out.reset();
            if (!out) break;
        }
        db.close();
    }
    QSqlDatabase::removeDatabase("reader");
    return out;
}

inline QByteArray bytesOf(const QString& path)
{
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}

inline bool putBytes(const QString& path, const QByteArray& bytes)
{
    QFile file(path);
    return file.open(QIODevice::WriteOnly | QIODevice::Truncate) && file.write(bytes) == bytes.size();
}

}  // namespace clendo
