#include "store/job_store.h"

#include <fmt/format.h>
#include <sys/stat.h>

#include <QFile>
#include <QUuid>
#include <QVariant>
#include <algorithm>
#include <nlohmann/json.hpp>

#include "files/canonical_json.h"
#include "files/files.h"
#include "files/random_name.h"
#include "record/journal/losses.h"
#include "store/job_schema.h"
#include "store/journal_reading.h"

namespace clendo {
namespace {

constexpr qint64 largestEvidence = qint64{256} << 20;

}  // namespace

std::set<std::string> evidenceNamedBy(std::span<const Entry> entries)
{
    std::set<std::string> out;
    for (const auto& e : entries)
        if (auto sha = evidenceOf(e.fact); Digest::parse(sha)) out.insert(std::move(sha));
    return out;
}

JobStore::JobStore(QString path) : path_(std::move(path)), connection_(QUuid::createUuid().toString()), filePath_(path_) {}

std::string JobStore::newAct() { return randomName(15); }

JobStore::~JobStore()
{
    sqlite::disconnect(connection_);
    if (lock_) sqlite::removeEmptyLog(path_);
}

QSqlDatabase JobStore::database() const
{
    if (!QSqlDatabase::contains(connection_)) (void)sqlite::connectTo(connection_, filePath_, access_);
    return QSqlDatabase::database(connection_, false);
}

void JobStore::handOver() { sqlite::disconnect(connection_); }

std::set<std::string> JobStore::ownDevices() const
{
    std::set<std::string> out{end_.device};
    if (known_)
        for (const auto& [device, end] : known_->ends()) out.insert(device);
    out.insert(std::string("schema-1"));  // carried over: what this person filed before
    return out;
}

std::optional<JobStore::Identity> JobStore::identityNow() const
{
    struct stat info {};
    if (stat(QFile::encodeName(path_).constData(), &info) != 0) return std::nullopt;
    return Identity{info.st_dev, info.st_ino};
}

Result<void> JobStore::stillThere() const
{
    const auto now = identityNow();
    if (now && now == identity_) return {};
    return failure(Error::Code::JobMoved,
                   now ? "The job file was replaced by another program while it was open." : "The job file was deleted or moved while it was open.");
}

Result<std::vector<Entry>> JobStore::append(Act act, std::span<const Evidence> evidence)
{
    if (!readOnlyReason_.empty()) return failure(Error::Code::JobReadOnly, "Not saved. " + readOnlyReason_);
    if (act.facts.empty()) return std::vector<Entry>();
    if (act.id.empty()) act.id = newAct();
    ChainEnd end = end_;
    auto records = recordsOf(act, end);
    if (end.clock.last() > latestTime)
        return failure(Error::Code::NotSaved, "Not saved: the clock of this computer is wrong by centuries. Set it right.");
    if (auto ok = stillThere(); !ok) return tl::unexpected(std::move(ok.error()));
    QSqlDatabase db = database();
    auto ok = sqlite::run(db, QStringLiteral("BEGIN IMMEDIATE"));
    if (!ok) return tl::unexpected(std::move(ok.error()));
    for (const auto& piece : evidence)
        if (ok) ok = schema::addEvidence(db, sha256(piece.bytes), piece.bytes);
    ok = ok.and_then([&] { return schema::append(db, records); }).and_then([&] { return sqlite::run(db, QStringLiteral("COMMIT")); });
    if (!ok) {
        (void)sqlite::run(db, QStringLiteral("ROLLBACK"));
        if (auto there = stillThere(); !there) return tl::unexpected(std::move(there.error()));
        return tl::unexpected(std::move(ok.error()));
    }
    end_ = end;
    if (auto there = stillThere(); !there) return tl::unexpected(std::move(there.error()));
    if (!known_) known_.emplace(records.front().hash);  // the first of the job
    known_->filed(end_.device, end_.head);
    std::vector<Entry> out;
    for (auto& record : records) out.push_back(entryOf(std::move(record)));
    return out;
}

Result<JournalStore::Came> JobStore::since(StoreCursor cursor) const
{
    if (schema_ == 1) return Came{{}, cursor};
    auto journal = readJournal(database(), cursor.position);
    if (!journal.wrong.empty()) return failure(Error::Code::JobDamaged, journal.wrong.front().message);
    return Came{std::move(journal.entries), {journal.last}};
}

void JobStore::listen()
{
    const qint64 before = std::exchange(dataVersion_, sqlite::valueOf(database(), QStringLiteral("PRAGMA data_version")).toLongLong());
    if (before == 0 || before == dataVersion_) return;
    for (const auto& heard : heard_) heard();
}

Result<void> JobStore::adopt(std::span<const EntryRecord> entries, const EvidenceSource& source)
{
    if (!readOnlyReason_.empty()) return failure(Error::Code::JobReadOnly, "Not saved. " + readOnlyReason_);
    if (auto ok = stillThere(); !ok) return ok;
    std::set<Digest> there;
    for (const auto& record : records()) there.insert(record.hash);
    std::vector<EntryRecord> fresh;
    std::vector<Entry> read;
    for (const auto& e : entries)
        if (there.insert(e.hash).second) {
            fresh.push_back(e);
            read.push_back(entryOf(e));
        }
    QSqlDatabase db = database();
    auto ok = sqlite::run(db, QStringLiteral("BEGIN IMMEDIATE"));
    if (!ok) return ok;
    const auto have = evidenceHashes();
    const auto losses = lossesIn(read);
    for (const auto& sha : evidenceNamedBy(read)) {
        if (have.contains(sha) || isEvidenceNoted(losses, sha) || !ok) continue;
        ok = source(sha).and_then([&](const std::string& bytes) { return schema::addEvidence(db, sha, bytes); });
    }
    ok = ok.and_then([&] { return schema::append(db, fresh); }).and_then([&] { return sqlite::run(db, QStringLiteral("COMMIT")); });
    if (!ok) (void)sqlite::run(db, QStringLiteral("ROLLBACK"));
    return ok;
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

std::set<std::string> JobStore::evidenceHashes() const
{
    std::set<std::string> out;
    QSqlQuery q(database());
    q.setForwardOnly(true);
    if (q.exec(QStringLiteral("SELECT sha256 FROM evidence")))
        while (q.next()) out.insert(q.value(0).toString().toStdString());
    return out;
}

std::vector<EntryRecord> JobStore::records() const { return schema_ == 1 ? carried_ : readRecords(database()); }

std::vector<Wrong> JobStore::checkAll() const
{
    std::vector<Wrong> out = wrong_;
    if (schema_ > schema::version) out.push_back({"file", "", "The job says that a newer Clendo wrote it: this one cannot check all of it."});
    QSqlQuery q(database());
    if (q.exec(QStringLiteral("PRAGMA integrity_check(20)"))) {
        while (q.next())
            if (q.value(0).toString() != QLatin1String("ok"))
                out.push_back({"file", "", "The file is damaged: " + q.value(0).toString().toStdString()});
    } else if (out.empty()) {
        out.push_back({"file", "", "The file is damaged: " + q.lastError().text().toStdString()});
    }
    for (const auto& e : records())
        if (const auto body = nlohmann::json::parse(e.body, nullptr, false); body.is_discarded() || canonicalJson(body) != e.body)
            out.push_back({"entry", e.hash.hex(), "The body of the entry is not in canonical form: no version of Clendo wrote it so."});
    for (const auto& sha : evidenceHashes())
        if (const auto bytes = evidence(sha); !bytes) out.push_back({"evidence", sha, bytes.error().message});
    return out;
}

void JobStore::limitPages(int pages) { (void)sqlite::run(database(), QStringLiteral("PRAGMA max_page_count = %1").arg(pages)); }

int JobStore::pageCount() const { return sqlite::valueOf(database(), QStringLiteral("PRAGMA page_count")).toInt(); }

}  // namespace clendo
