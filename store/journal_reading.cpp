#include "store/journal_reading.h"

#include <fmt/format.h>

#include <QSqlError>
#include <QSqlQuery>
#include <QThreadPool>
#include <QVariant>
#include <algorithm>
#include <array>
#include <deque>
#include <exception>
#include <functional>
#include <optional>

#include "record/journal/order.h"

namespace clendo {
namespace {

constexpr std::size_t chunkLines = 500;  // for fewer a thread costs more than it saves
constexpr int fineSteps = 64;            // positions that are tried one by one behind an unreadable one, before the steps grow

// In one piece, with the lengths of its parts: each piece that one thread takes and another gives back costs both. As bytes: texts are read as UTF-8
// again, and the way through UTF-16 costs more than reading them.
constexpr const char* columns =
    "position, happened, filed, sequence, length(CAST(hash AS BLOB)), length(CAST(act AS BLOB)), length(CAST(who AS BLOB)), "
    "length(CAST(device AS BLOB)), coalesce(length(CAST(previous AS BLOB)), 0), length(CAST(kind AS BLOB)), "
    "CAST(hash || act || who || device || coalesce(previous, '') || kind || body AS BLOB)";

/// Gives each row that can be read, in order of position, to `take`; where SQLite fails it goes on behind. False where it failed somewhere. In a
/// damaged file pages may point anywhere: positions that do not grow are a failure too, and there is an end to trying.
bool eachRow(const QSqlDatabase& db, const QString& select, const QString& from, const QString& key, qint64 next,
             const std::function<void(QSqlQuery&)>& take)
{
    constexpr int mostTries = 400;
    QSqlQuery q(db);
    q.setForwardOnly(true);
    qint64 step = 1;
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

/// A row as the file holds it.
struct Line {
    qint64 position = 0;
    std::int64_t happened = 0, filed = 0, sequence = 0;
    std::array<std::size_t, 6> lengths{};  ///< of the parts of its text: hash, act, who, device, previous, kind; the body is the rest
    std::size_t text = 0;                  ///< bytes of all of it
};

Line lineFrom(QSqlQuery& q)
{
    Line line{q.value(0).toLongLong(), q.value(1).toLongLong(), q.value(2).toLongLong(), q.value(3).toLongLong(), {}, 0};
    for (std::size_t i = 0; i < line.lengths.size(); ++i) line.lengths[i] = static_cast<std::size_t>(q.value(4 + static_cast<int>(i)).toULongLong());
    return line;
}

/// An entry as it is kept, over the text of its row; nothing where it is not what its hash says.
struct Kept {
    EntryHead head;
    std::string_view kind, body;
};
std::optional<Kept> keptIn(const Line& line, std::string_view text)
{
    std::array<std::string_view, 6> parts;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (line.lengths[i] > text.size()) return std::nullopt;
        parts[i] = text.substr(0, line.lengths[i]);
        text.remove_prefix(line.lengths[i]);
    }
    const auto& [hash, act, who, device, previous, kind] = parts;
    const auto own = Digest::parse(hash), before = previous.empty() ? std::optional(Digest{}) : Digest::parse(previous);
    if (!own || !before || line.filed > latestTime) return std::nullopt;
    Kept out{{*own, std::string(act), line.happened, line.filed, std::string(who), std::string(device), line.sequence, *before}, kind, text};
    return hashOf(out.head, kind, text) == *own ? std::optional(std::move(out)) : std::nullopt;
}

/// Some rows as the file holds them, and then what they say.
class Chunk {
public:
    void add(QSqlQuery& q)
    {
        lines_.push_back(lineFrom(q));
        const QByteArray text = q.value(10).toByteArray();
        lines_.back().text = static_cast<std::size_t>(text.size());
        text_.append(text.constData(), lines_.back().text);
    }
    [[nodiscard]] std::size_t size() const { return lines_.size(); }

    void read()
    {
        std::string_view text = text_;
        entries.reserve(lines_.size());
        for (const Line& line : lines_) {
            auto kept = keptIn(line, text.substr(0, line.text));
            if (kept)
                entries.push_back(entryOf(std::move(kept->head), kept->kind, kept->body));
            else
                wrong.push_back({"entry", Digest::parse(text.substr(0, 64)) ? std::string(text.substr(0, 64)) : std::string(),
                                 fmt::format("The entry in line {} of the journal was changed after it was filed.", line.position)});
            text.remove_prefix(line.text);
        }
        text_ = {};  // the next chunk takes its place: new memory for all of them costs more than reading it
        lines_ = {};
    }

    void readOnOwnThread() noexcept
    {
        try {
            read();
        } catch (...) {
            failed = std::current_exception();  // it belongs to who asked
        }
    }

    std::vector<Entry> entries;
    std::vector<Wrong> wrong;
    std::exception_ptr failed;

private:
    std::vector<Line> lines_;
    std::string text_;
};

}  // namespace

JournalRead readJournal(const QSqlDatabase& db, std::int64_t behind)
{
    // the file gives its rows one after another; what they say is found out on all cores meanwhile
    std::deque<Chunk> chunks(1);
    QThreadPool readers;
    qint64 expected = behind + 1;
    bool inOrder = true;
    const bool whole = eachRow(db, QString::fromLatin1(columns), QStringLiteral("journal"), QStringLiteral("position"), expected, [&](QSqlQuery& q) {
        if (chunks.back().size() == chunkLines) {
            readers.start([&chunk = chunks.back()] { chunk.readOnOwnThread(); });
            chunks.emplace_back();
        }
        const qint64 position = q.value(0).toLongLong();
        inOrder = inOrder && position == expected;
        expected = position + 1;
        chunks.back().add(q);
    });
    chunks.back().readOnOwnThread();
    readers.waitForDone();
    for (const auto& chunk : chunks)
        if (chunk.failed) std::rethrow_exception(chunk.failed);
    JournalRead out;
    out.last = expected - 1;
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
    (void)eachRow(db, QString::fromLatin1(columns), QStringLiteral("journal"), QStringLiteral("position"), 0, [&](QSqlQuery& q) {
        const QByteArray text = q.value(10).toByteArray();
        if (auto kept = keptIn(lineFrom(q), {text.constData(), static_cast<std::size_t>(text.size())}))
            out.push_back({std::move(kept->head), std::string(kept->kind), std::string(kept->body)});
    });
    std::sort(out.begin(), out.end(), filedBefore);
    return out;
}

std::vector<Schema1Row> readSchema1(const QSqlDatabase& db, std::vector<Wrong>& wrong)
{
    std::vector<Schema1Row> out;
    const bool whole =
        eachRow(db, QStringLiteral("id, at, CAST(who AS BLOB), CAST(kind AS BLOB), CAST(body AS BLOB)"), QStringLiteral("journal"),
                QStringLiteral("id"), 0, [&](QSqlQuery& q) {
                    out.push_back({q.value(0).toLongLong(), q.value(1).toLongLong(), bytes(q.value(2)), bytes(q.value(3)), bytes(q.value(4))});
                });
    QSqlQuery q(db);
    const qint64 filed = q.exec(QStringLiteral("SELECT seq FROM sqlite_sequence WHERE name = 'journal'")) && q.next() ? q.value(0).toLongLong() : 0;
    if (!whole || static_cast<qint64>(out.size()) != filed)
        wrong.push_back({"file", "", fmt::format("The job says that it has {} entries; {} can be read.", filed, out.size())});
    return out;
}

}  // namespace clendo
