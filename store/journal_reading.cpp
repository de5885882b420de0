#include "store/journal_reading.h"

#include <fmt/format.h>

#include <QSqlError>
#include <QSqlQuery>
#include <QThreadPool>
#include <QVariant>
#include <algorithm>
#include <deque>
#include <functional>
#include <optional>

#include "record/journal/order.h"

namespace clendo {
namespace {

constexpr std::size_t chunkLines = 2000;  // for fewer a thread costs more than it saves
constexpr int fineSteps = 64;             // positions that are tried one by one behind an unreadable one, before the steps grow

// as bytes: texts are read as UTF-8 again, and the way through UTF-16 costs more than reading them
constexpr const char* columns =
    "position, CAST(hash AS BLOB), CAST(act AS BLOB), happened, filed, CAST(who AS BLOB), CAST(device AS BLOB), sequence, CAST(previous AS BLOB), "
    "CAST(kind AS BLOB), CAST(body AS BLOB)";

/// Gives each row that can be read, in order of position, to `take`; where SQLite fails it goes on behind. False where it failed somewhere. In a
/// damaged file pages may point anywhere: positions that do not grow are a failure too, and there is an end to trying.
bool eachRow(const QSqlDatabase& db, const QString& select, const QString& from, const QString& key, const std::function<void(QSqlQuery&)>& take)
{
    constexpr int mostTries = 400;
    QSqlQuery q(db);
    q.setForwardOnly(true);
    qint64 next = 0, step = 1;
    for (int tries = 0, misses = 0; tries < mostTries; ++tries) {
        const bool begun = q.exec(QStringLiteral("SELECT %1 FROM %2 WHERE %3 >= %4 ORDER BY %3").arg(select, from, key).arg(next));
        bool any = false, grows = true;
        while (begun && q.next()) {
            const qint64 position = q.value(0).toLongLong();
            grows = position >= next;
            if (!grows) break;
            any = true;
            next = position + 1;
            take(q);
        }
        if (begun && grows && !q.lastError().isValid()) return tries == 0;
        misses = any ? 1 : misses + 1;
        step = misses <= fineSteps ? 1 : std::min(step * 2, qint64{1} << 40);
        next += step;
    }
    return false;
}

std::string bytes(const QVariant& value)
{
    const QByteArray b = value.toByteArray();
    return {b.constData(), static_cast<std::size_t>(b.size())};
}

std::optional<EntryRecord> recordFrom(QSqlQuery& q)
{
    EntryRecord e;
    const auto hash = Digest::parse(bytes(q.value(1)));
    const auto previous = q.value(8).isNull() ? std::optional(Digest{}) : Digest::parse(bytes(q.value(8)));
    if (!hash || !previous) return std::nullopt;
    e.hash = *hash;
    e.previous = *previous;
    e.act = bytes(q.value(2));
    e.happened = q.value(3).toLongLong();
    e.filed = q.value(4).toLongLong();
    e.who = bytes(q.value(5));
    e.device = bytes(q.value(6));
    e.sequence = q.value(7).toLongLong();
    e.kind = bytes(q.value(9));
    e.body = bytes(q.value(10));
    return e;
}

/// Some rows as the file holds them, and then what they say.
struct Chunk {
    struct Line {
        qint64 position = 0;
        std::optional<EntryRecord> record;
    };
    std::vector<Line> lines;
    std::vector<Entry> entries;
    std::vector<Wrong> wrong;

    void read()
    {
        entries.reserve(lines.size());
        for (auto& line : lines)
            if (line.record && hashOf(*line.record) == line.record->hash && line.record->filed <= latestTime)
                entries.push_back(entryOf(std::move(*line.record)));
            else
                wrong.push_back({"entry", line.record ? line.record->hash.hex() : std::string(),
                                 fmt::format("The entry in line {} of the journal was changed after it was filed.", line.position)});
        lines.clear();
        lines.shrink_to_fit();
    }
};

}  // namespace

JournalRead readJournal(const QSqlDatabase& db)
{
    // the file gives its rows one after another; what they say is found out on all cores meanwhile
    std::deque<Chunk> chunks(1);
    QThreadPool readers;
    qint64 expected = 1;
    bool inOrder = true;
    const bool whole = eachRow(db, QString::fromLatin1(columns), QStringLiteral("journal"), QStringLiteral("position"), [&](QSqlQuery& q) {
        if (chunks.back().lines.size() == chunkLines) {
            readers.start([&chunk = chunks.back()] { chunk.read(); });
            chunks.emplace_back();
        }
        const qint64 position = q.value(0).toLongLong();
        inOrder = inOrder && position == expected;
        expected = position + 1;
        chunks.back().lines.push_back({position, recordFrom(q)});
    });
    chunks.back().read();
    readers.waitForDone();
    JournalRead out;
    out.entries.reserve(chunks.size() * chunkLines);
    for (auto& chunk : chunks) {
        std::move(chunk.entries.begin(), chunk.entries.end(), std::back_inserter(out.entries));
        std::move(chunk.wrong.begin(), chunk.wrong.end(), std::back_inserter(out.wrong));
    }
    if (!whole) out.wrong.push_back({"file", "", "A part of the journal cannot be read."});
    if (whole && !inOrder) out.wrong.push_back({"file", "", "The lines of the journal are not numbered one after another."});
    if (!std::is_sorted(out.entries.begin(), out.entries.end(), filedBefore)) std::sort(out.entries.begin(), out.entries.end(), filedBefore);
    return out;
}

std::vector<EntryRecord> readRecords(const QSqlDatabase& db)
{
    std::vector<EntryRecord> out;
    (void)eachRow(db, QString::fromLatin1(columns), QStringLiteral("journal"), QStringLiteral("position"), [&](QSqlQuery& q) {
        if (auto e = recordFrom(q); e && hashOf(*e) == e->hash && e->filed <= latestTime) out.push_back(std::move(*e));
    });
    std::sort(out.begin(), out.end(), filedBefore);
    return out;
}

std::vector<Schema1Row> readSchema1(const QSqlDatabase& db, std::vector<Wrong>& wrong)
{
    std::vector<Schema1Row> out;
    const bool whole =
        eachRow(db, QStringLiteral("id, at, CAST(who AS BLOB), CAST(kind AS BLOB), CAST(body AS BLOB)"), QStringLiteral("journal"),
                QStringLiteral("id"), [&](QSqlQuery& q) {
                    out.push_back({q.value(0).toLongLong(), q.value(1).toLongLong(), bytes(q.value(2)), bytes(q.value(3)), bytes(q.value(4))});
                });
    QSqlQuery q(db);
    const qint64 filed = q.exec(QStringLiteral("SELECT seq FROM sqlite_sequence WHERE name = 'journal'")) && q.next() ? q.value(0).toLongLong() : 0;
    if (!whole || static_cast<qint64>(out.size()) != filed)
        wrong.push_back({"file", "", fmt::format("The job says that it has {} entries; {} can be read.", filed, out.size())});
    return out;
}

}  // namespace clendo
