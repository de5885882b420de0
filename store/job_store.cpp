#include "store/job_store.h"

#include <fmt/format.h>

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSqlError>
#include <QSqlQuery>
#include <QThreadPool>
#include <QUrl>
#include <QUuid>
#include <QVariant>
#include <deque>
#include <nlohmann/json.hpp>
#include <optional>

#include "files/files.h"

namespace clendo {
namespace {

constexpr int schema = 1;
constexpr qint64 largestEvidence = qint64{256} << 20;

QString readOnlyAddress(const QString& path, bool immutable)
{
    const QString encoded = QString::fromLatin1(QUrl::toPercentEncoding(QFileInfo(path).absoluteFilePath(), "/"));
    return QStringLiteral("file:%1?mode=ro%2").arg(encoded, immutable ? QStringLiteral("&immutable=1") : QString());
}

bool connectTo(const QString& connection, const QString& path, bool readOnly)
{
    const auto attempt = [&](const QString& name, const QString& options) {
        QSqlDatabase::removeDatabase(connection);
        QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), connection);
        db.setDatabaseName(name);
        db.setConnectOptions(options);
        return db.open() && QSqlQuery(db).exec(QStringLiteral("SELECT count(*) FROM sqlite_master"));
    };
    if (!readOnly)
        return attempt(path, QStringLiteral("QSQLITE_BUSY_TIMEOUT=2000")) &&
               QSqlQuery(QSqlDatabase::database(connection)).exec(QStringLiteral("PRAGMA synchronous = FULL"));
    const QString options = QStringLiteral("QSQLITE_OPEN_URI;QSQLITE_OPEN_READONLY;QSQLITE_BUSY_TIMEOUT=2000");
    // a journal beside a file in a folder that cannot be written cannot be shared: then the file is taken as it stands
    return attempt(readOnlyAddress(path, false), options) || attempt(readOnlyAddress(path, true), options);
}

QString metaValue(const QSqlDatabase& db, const QString& key)
{
    QSqlQuery q(db);
    q.prepare(QStringLiteral("SELECT value FROM meta WHERE key = ?"));
    q.addBindValue(key);
    return q.exec() && q.next() ? q.value(0).toString() : QString();
}

Error sqlError(const QSqlError& error)
{
    const std::string detail = error.text().toStdString();
    const QString code = error.nativeErrorCode();
    if (code == QLatin1String("13") || code == QLatin1String("778") || code == QLatin1String("10"))  // SQLITE_FULL, SQLITE_IOERR_WRITE, SQLITE_IOERR
        return {Error::Code::DiskFull, "Not saved: the disk is full. What was filed before is safe. Free some space and do it again.", detail};
    if (code == QLatin1String("8"))
        return {Error::Code::JobReadOnly, "Not saved: the job can only be read. Copy it to a place where you may write.", detail};
    if (code == QLatin1String("5"))
        return {Error::Code::JobInUse, "Not saved: another program holds the job. Close it there and do it again.", detail};
    return {Error::Code::NotSaved, "Not saved: the job file could not be written. What was filed before is safe. Check the drive and do it again.",
            detail};
}

Result<void> run(QSqlQuery& query)
{
    if (query.exec()) return {};
    return tl::unexpected(sqlError(query.lastError()));
}

Result<void> run(const QSqlDatabase& db, const char* statement)
{
    QSqlQuery query(db);
    if (query.exec(QString::fromLatin1(statement))) return {};
    return tl::unexpected(sqlError(query.lastError()));
}

std::unique_ptr<QLockFile> lockBeside(const QString& path)
{
    auto lock = std::make_unique<QLockFile>(path + QStringLiteral(".lock"));
    lock->setStaleLockTime(0);  // held as long as the window lives; a lock of a dead process is taken over
    return lock->tryLock(0) ? std::move(lock) : nullptr;
}

}  // namespace

JobStore::~JobStore()
{
    if (!QSqlDatabase::contains(connection_)) return;
    {
        QSqlDatabase db = database();
        if (db.isOpen() && readOnlyReason_.empty()) QSqlQuery(db).exec(QStringLiteral("PRAGMA wal_checkpoint(TRUNCATE)"));
        db.close();
    }
    QSqlDatabase::removeDatabase(connection_);
}

QSqlDatabase JobStore::database() const
{
    if (!QSqlDatabase::contains(connection_)) (void)connectTo(connection_, path_, !readOnlyReason_.empty());
    return QSqlDatabase::database(connection_);
}

void JobStore::handOver()
{
    QSqlDatabase::database(connection_).close();
    QSqlDatabase::removeDatabase(connection_);
}

Result<std::unique_ptr<JobStore>> JobStore::create(const QString& path)
{
    if (QFileInfo::exists(path))
        return failure(Error::Code::NotSaved, fmt::format("“{}” exists already. Choose another name for the new job.", path.toStdString()));
    auto store = std::unique_ptr<JobStore>(new JobStore(path, QUuid::createUuid().toString()));
    store->lock_ = lockBeside(path);
    if (!store->lock_ || !connectTo(store->connection_, path, false))
        return failure(Error::Code::NotSaved, fmt::format("No job can be made at “{}”. Choose a folder where you may write.", path.toStdString()));
    const QSqlDatabase db = store->database();
    for (const char* statement :
         {"PRAGMA journal_mode = WAL", "PRAGMA synchronous = FULL", "BEGIN", "CREATE TABLE meta (key TEXT PRIMARY KEY, value TEXT NOT NULL)",
          "CREATE TABLE journal (id INTEGER PRIMARY KEY AUTOINCREMENT, at INTEGER NOT NULL, who TEXT NOT NULL, kind TEXT NOT NULL, body TEXT NOT "
          "NULL)",
          "CREATE TABLE evidence (sha256 TEXT PRIMARY KEY, name TEXT NOT NULL, bytes BLOB NOT NULL)",
          "CREATE TRIGGER journal_keeps BEFORE UPDATE ON journal BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END",
          "CREATE TRIGGER journal_stays BEFORE DELETE ON journal BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END",
          "INSERT INTO meta VALUES ('format', 'clendo-job'), ('schema', '1'), ('oldest_reader', '1')", "COMMIT"})
        if (const auto ok = run(db, statement); !ok) return tl::unexpected(ok.error());
    return store;
}

Result<std::unique_ptr<JobStore>> JobStore::open(const QString& path)
{
    const QFileInfo info(path);
    if (!info.isFile())
        return failure(Error::Code::FileUnreadable, fmt::format("There is no job at “{}”. Check the name and the drive.", path.toStdString()));
    auto store = std::unique_ptr<JobStore>(new JobStore(path, QUuid::createUuid().toString()));
    const bool writable = info.isWritable() && QFileInfo(info.absolutePath()).isWritable();
    if (!writable)
        store->readOnlyReason_ = "This job can only be read: the file or its folder is write-protected. Copy it to where you may write.";
    else if (!(store->lock_ = lockBeside(path)))
        store->readOnlyReason_ = "This job is open in another window. Here it can only be read; what is filed there shows when you open it again.";
    const auto notOurs = [&] {
        return failure(Error::Code::JobNotClendo, fmt::format("“{}” is not a Clendo job. Choose a file that ends in .clendo.", path.toStdString()));
    };
    if (!connectTo(store->connection_, path, !store->readOnlyReason_.empty())) return notOurs();
    if (metaValue(store->database(), QStringLiteral("format")) != QLatin1String("clendo-job")) return notOurs();
    const int written = metaValue(store->database(), QStringLiteral("schema")).toInt(),
              reader = metaValue(store->database(), QStringLiteral("oldest_reader")).toInt();
    if (reader > schema)
        return failure(Error::Code::JobNewer,
                       "This job was written by a newer Clendo and cannot be read by this one. Update Clendo; the job is unharmed.");
    if (written > schema) {
        store->readOnlyReason_ = "This job was written by a newer Clendo. It can be read here; to file anything, update Clendo.";
        if (!connectTo(store->connection_, path, true)) return notOurs();
    }
    return store;
}

namespace {

/// Some lines as the file holds them, and what they say; nothing of one that cannot be read.
class Chunk {
public:
    void add(std::int64_t id, std::int64_t at, const QByteArray& who, const QByteArray& kind, const QByteArray& body)
    {
        lines_.push_back(
            {id, at, static_cast<std::size_t>(who.size()), static_cast<std::size_t>(kind.size()), static_cast<std::size_t>(body.size())});
        // in one piece of memory: what one thread takes and another gives back, piece by piece, they wait for each other
        for (const auto* part : {&who, &kind, &body}) text_.append(part->constData(), static_cast<std::size_t>(part->size()));
    }
    [[nodiscard]] std::size_t size() const { return lines_.size(); }

    void read()
    {
        std::string_view text = text_;
        const auto next = [&](std::size_t size) {
            const auto part = text.substr(0, size);
            text.remove_prefix(size);
            return part;
        };
        entries.resize(lines_.size());
        for (std::size_t i = 0; i < lines_.size(); ++i) {
            const Line& line = lines_[i];
            const auto who = next(line.who), kind = next(line.kind);
            auto fact = factFrom(kind, next(line.body));
            if (fact) entries[i] = Entry{line.id, line.at, std::string(who), std::move(*fact)};
        }
    }

    std::vector<std::optional<Entry>> entries;

private:
    struct Line {
        std::int64_t id = 0, at = 0;
        std::size_t who = 0, kind = 0, body = 0;  ///< bytes, one after another in the text
    };
    std::vector<Line> lines_;
    std::string text_;
};

constexpr std::size_t chunkLines = 2000;  // for fewer a thread costs more than it saves

}  // namespace

Result<std::vector<Entry>> JobStore::entries(int* unreadable) const
{
    QSqlQuery q(database());
    q.setForwardOnly(true);
    // as bytes: texts are read as UTF-8 again, and the way through UTF-16 costs more than reading them
    if (!q.exec(QStringLiteral("SELECT id, at, CAST(who AS BLOB), CAST(kind AS BLOB), CAST(body AS BLOB) FROM journal ORDER BY id")))
        return failure(Error::Code::JobDamaged, "The job's journal cannot be read. Restore the file from a copy.",
                       q.lastError().text().toStdString());
    // the file gives its lines one after another; what they say is found out on all cores meanwhile
    std::deque<Chunk> chunks(1);
    QThreadPool readers;
    while (q.next()) {
        if (chunks.back().size() == chunkLines) {
            readers.start([&chunk = chunks.back()] { chunk.read(); });
            chunks.emplace_back();
        }
        chunks.back().add(q.value(0).toLongLong(), q.value(1).toLongLong(), q.value(2).toByteArray(), q.value(3).toByteArray(),
                          q.value(4).toByteArray());
    }
    chunks.back().read();
    readers.waitForDone();
    std::vector<Entry> out;
    out.reserve(chunks.size() * chunkLines);
    for (auto& chunk : chunks)
        for (auto& entry : chunk.entries)
            if (entry)
                out.push_back(std::move(*entry));
            else if (unreadable)
                ++*unreadable;
    return out;
}

Result<Entry> JobStore::file(const Fact& fact, const std::string& who, std::int64_t at, const Evidence* evidence)
{
    return file(std::span(&fact, 1), who, at, evidence).map([](std::vector<Entry> entries) { return std::move(entries.front()); });
}

Result<std::vector<Entry>> JobStore::file(std::span<const Fact> facts, const std::string& who, std::int64_t at, const Evidence* evidence)
{
    if (!readOnlyReason_.empty()) return failure(Error::Code::JobReadOnly, "Not saved. " + readOnlyReason_);
    QSqlDatabase db = database();
    if (!db.transaction()) return tl::unexpected(sqlError(db.lastError()));
    const auto give_up = [&](Error error) {
        db.rollback();
        return tl::unexpected(std::move(error));
    };
    if (evidence) {
        QSqlQuery q(db);
        q.prepare(QStringLiteral("INSERT OR IGNORE INTO evidence VALUES (?, ?, ?)"));
        q.addBindValue(QString::fromStdString(sha256(evidence->bytes)));
        q.addBindValue(QString::fromStdString(evidence->name));
        q.addBindValue(QByteArray(evidence->bytes.data(), static_cast<qsizetype>(evidence->bytes.size())));
        if (const auto ok = run(q); !ok) return give_up(ok.error());
    }
    QSqlQuery q(db);
    q.prepare(QStringLiteral("INSERT INTO journal (at, who, kind, body) VALUES (?, ?, ?, ?)"));
    std::vector<Entry> out;
    for (const Fact& fact : facts) {
        const std::string_view kind = kindOf(fact);
        q.bindValue(0, qint64(at));
        q.bindValue(1, QString::fromStdString(who));
        q.bindValue(2, QString::fromUtf8(kind.data(), static_cast<qsizetype>(kind.size())));
        q.bindValue(3, QString::fromStdString(bodyOf(fact).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace)));
        if (const auto ok = run(q); !ok) return give_up(ok.error());
        out.push_back({q.lastInsertId().toLongLong(), at, who, fact});
    }
    if (!db.commit()) return give_up(sqlError(db.lastError()));
    return out;
}

Result<std::string> JobStore::evidence(const std::string& sha) const
{
    QSqlQuery q(database());
    q.prepare(QStringLiteral("SELECT bytes FROM evidence WHERE sha256 = ? AND length(bytes) <= ?"));
    q.addBindValue(QString::fromStdString(sha));
    q.addBindValue(largestEvidence);
    if (!q.exec() || !q.next()) return failure(Error::Code::JobDamaged, "A picture or trace is missing from the job file.", sha);
    const std::string bytes = q.value(0).toByteArray().toStdString();
    if (sha256(bytes) != sha) return failure(Error::Code::JobDamaged, "A picture or trace in the job file was changed after it was filed.", sha);
    return bytes;
}

void JobStore::limitPages(int pages) { (void)run(database(), fmt::format("PRAGMA max_page_count = {}", pages).c_str()); }

int JobStore::pageCount() const
{
    QSqlQuery q(database());
    return q.exec(QStringLiteral("PRAGMA page_count")) && q.next() ? q.value(0).toInt() : 0;
}

}  // namespace clendo
