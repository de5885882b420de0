#include "store/job_schema.h"

#include <QUuid>
#include <QVariant>
#include <array>

#include "store/sqlite.h"

namespace clendo::schema {
namespace {

// STRICT: a value of another type is found by SQLite's own check. The texts are compared when a job is opened.
constexpr std::array<const char*, 6> statements{
    "CREATE TABLE meta (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT",
    "CREATE TABLE journal (position INTEGER PRIMARY KEY, hash TEXT NOT NULL, act TEXT NOT NULL, happened INTEGER NOT NULL, filed INTEGER NOT NULL, "
    "who "
    "TEXT NOT NULL, device TEXT NOT NULL, sequence INTEGER NOT NULL, previous TEXT, kind TEXT NOT NULL, body TEXT NOT NULL) STRICT",
    "CREATE TABLE heads (device TEXT PRIMARY KEY, sequence INTEGER NOT NULL, hash TEXT NOT NULL) STRICT",
    "CREATE TABLE evidence (sha256 TEXT PRIMARY KEY, bytes BLOB NOT NULL) STRICT",
    "CREATE TRIGGER journal_keeps BEFORE UPDATE ON journal BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END",
    "CREATE TRIGGER journal_stays BEFORE DELETE ON journal BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END"};

QString text(const std::string& t) { return QString::fromStdString(t); }

Result<void> count(const QSqlDatabase& db, const char* key, qint64 more)
{
    QSqlQuery q(db);
    q.prepare(QStringLiteral("UPDATE meta SET value = CAST(CAST(value AS INTEGER) + ? AS TEXT) WHERE key = ?"));
    q.addBindValue(more);
    q.addBindValue(QString::fromLatin1(key));
    return sqlite::run(q);
}

Result<void> setHead(const QSqlDatabase& db, const std::string& device, const ChainHead& head)
{
    QSqlQuery q(db);
    q.prepare(
        QStringLiteral("INSERT INTO heads VALUES (?, ?, ?) ON CONFLICT (device) DO UPDATE SET sequence = excluded.sequence, hash = excluded.hash "
                       "WHERE excluded.sequence > sequence"));
    q.addBindValue(text(device));
    q.addBindValue(qint64(head.sequence));
    q.addBindValue(text(head.hash.hex()));
    return sqlite::run(q);
}

/// What SQLite knows of the tables.
QStringList tablesOf(const QSqlDatabase& db)
{
    QStringList out;
    QSqlQuery q(db);
    if (q.exec(QStringLiteral("SELECT type, name, tbl_name, coalesce(sql, '') || typeof(type) || typeof(name) || typeof(tbl_name) || typeof(sql) "
                              "FROM sqlite_master ORDER BY rowid")))
        while (q.next()) out << q.value(0).toString() + q.value(1).toString() + q.value(2).toString() + q.value(3).toString();
    return out;
}

const QStringList& tablesOfNewJobs()
{
    static const QStringList tables = [] {
        const QString connection = QUuid::createUuid().toString();
        QStringList out;
        {
            QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), connection);
            db.setDatabaseName(QStringLiteral(":memory:"));
            if (db.open() && make(db)) out = tablesOf(db);
        }
        sqlite::disconnect(connection);
        return out;
    }();
    return tables;
}

qint64 whole(const QMap<QString, QString>& meta, const char* key, std::vector<Wrong>& wrong)
{
    bool ok = false;
    const QString value = meta.value(QString::fromLatin1(key));
    const qint64 number = value.toLongLong(&ok);
    if (ok && number >= 0 && QString::number(number) == value) return number;
    wrong.push_back({"file", "", std::string("The job does not say its “") + key + "”."});
    return 0;
}

}  // namespace

Result<void> make(const QSqlDatabase& db)
{
    for (const char* statement : statements)
        if (const auto ok = sqlite::run(db, QString::fromLatin1(statement)); !ok) return ok;
    return sqlite::run(
        db, QStringLiteral("INSERT INTO meta VALUES ('format', 'clendo-job'), ('schema', '%1'), ('oldest_reader', '%1'), ('entries', '0'), "
                           "('evidence', '0')")
                .arg(version));
}

Meta readMeta(const QSqlDatabase& db, std::vector<Wrong>& wrong)
{
    QMap<QString, QString> values;
    QSqlQuery q(db);
    const bool readable = q.exec(QStringLiteral("SELECT key, value FROM meta"));
    while (readable && q.next()) values.insert(q.value(0).toString(), q.value(1).toString());
    if (!readable || q.lastError().isValid()) wrong.push_back({"file", "", "What the job says of itself cannot be read."});
    Meta out;
    out.format = values.value(QStringLiteral("format"));
    out.schema = values.value(QStringLiteral("schema")).toInt();
    out.oldestReader = values.value(QStringLiteral("oldest_reader")).toInt();
    if (out.schema == 1) return out;  // counts and heads came later
    out.entries = whole(values, "entries", wrong);
    out.evidence = whole(values, "evidence", wrong);
    if (out.schema == version && (values.size() != 5 || out.oldestReader != version))
        wrong.push_back({"file", "", "What the job says of itself is not what Clendo writes."});
    const bool heads = q.exec(QStringLiteral("SELECT device, sequence, hash FROM heads"));
    while (heads && q.next()) {
        const auto hash = Digest::parse(q.value(2).toString().toStdString());
        if (!hash) wrong.push_back({"file", "", "The end of a chain is not readable."});
        out.heads[q.value(0).toString().toStdString()] = {q.value(1).toLongLong(), hash.value_or(Digest{})};
    }
    if (!heads || q.lastError().isValid()) wrong.push_back({"file", "", "The ends of the chains cannot be read."});
    if (out.schema != version) return out;
    if (tablesOf(db) != tablesOfNewJobs()) wrong.push_back({"file", "", "The tables of the job are not those that Clendo makes."});
    return out;
}

Result<void> append(const QSqlDatabase& db, std::span<const EntryRecord> entries)
{
    const qint64 last = sqlite::valueOf(db, QStringLiteral("SELECT max(position) FROM journal")).toLongLong();
    QSqlQuery q(db);
    q.prepare(QStringLiteral("INSERT INTO journal VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"));
    ChainHeads heads;
    qint64 position = last;
    for (const auto& e : entries) {
        int i = 0;
        q.bindValue(i++, ++position);
        q.bindValue(i++, text(e.hash.hex()));
        q.bindValue(i++, text(e.act));
        q.bindValue(i++, qint64(e.happened));
        q.bindValue(i++, qint64(e.filed));
        q.bindValue(i++, text(e.who));
        q.bindValue(i++, text(e.device));
        q.bindValue(i++, qint64(e.sequence));
        q.bindValue(i++, e.previous ? QVariant(text(e.previous.hex())) : QVariant(QMetaType::fromType<QString>()));
        q.bindValue(i++, text(e.kind));
        q.bindValue(i++, text(e.body));
        if (const auto ok = sqlite::run(q); !ok) return ok;
        if (auto& head = heads[e.device]; e.sequence > head.sequence) head = {e.sequence, e.hash};
    }
    for (const auto& [device, head] : heads)
        if (const auto ok = setHead(db, device, head); !ok) return ok;
    return count(db, "entries", position - last);
}

Result<void> addEvidence(const QSqlDatabase& db, const std::string& sha256, const std::string& bytes)
{
    QSqlQuery q(db);
    q.prepare(QStringLiteral("INSERT OR IGNORE INTO evidence VALUES (?, ?)"));
    q.addBindValue(text(sha256));
    q.addBindValue(QByteArray(bytes.data(), static_cast<qsizetype>(bytes.size())));
    if (const auto ok = sqlite::run(q); !ok) return ok;
    return q.numRowsAffected() > 0 ? count(db, "evidence", 1) : Result<void>();
}

}  // namespace clendo::schema
