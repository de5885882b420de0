#include "store/job_store.h"

#include <fmt/format.h>
#include <sodium.h>
#include <sys/stat.h>

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QUuid>
#include <QVariant>
#include <algorithm>
#include <nlohmann/json.hpp>

#include "files/canonical_json.h"
#include "files/files.h"
#include "record/journal/order.h"
#include "store/file_header.h"
#include "store/job_schema.h"
#include "store/journal_reading.h"
#include "store/save_job.h"

namespace clendo {
namespace {

constexpr qint64 largestEvidence = qint64{256} << 20;

std::string randomName(std::size_t digits)
{
    std::string out;
    while (out.size() < digits) out += fmt::format("{:08x}", randombytes_random());
    out.resize(digits);
    return out;
}

std::string newDevice() { return randomName(12); }

std::vector<LossesNoted> lossesIn(const std::vector<Entry>& entries)
{
    std::vector<LossesNoted> out;
    for (const auto& e : entries)
        if (const auto* losses = std::get_if<LossesNoted>(&e.fact)) out.push_back(*losses);
    return out;
}

/// Whether an entry is known to be lost.
bool isNoted(const std::vector<LossesNoted>& losses, const std::string& device, std::int64_t sequence)
{
    for (const auto& l : losses)
        for (const auto& gap : l.gaps)
            if (gap.device == device && gap.from <= sequence && sequence <= gap.to) return true;
    return false;
}

}  // namespace

std::set<std::string> evidenceNamedBy(std::span<const Entry> entries)
{
    std::set<std::string> out;
    for (const auto& e : entries) {
        if (const auto* seen = std::get_if<FaceSeen>(&e.fact)) out.insert(seen->picture);
        if (const auto* shot = std::get_if<TraceShot>(&e.fact)) out.insert(shot->trace);
    }
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

Result<std::unique_ptr<JobStore>> JobStore::create(const QString& path, const Act& founding)
{
    ChainEnd end{newDevice(), {}, {}};
    Act act = founding;
    if (act.id.empty()) act.id = newAct();
    const auto entries = recordsOf(act, end);
    const auto made = makeJobFile(path, entries, {}, {}, Existing::Keep);
    if (!made) return tl::unexpected(made.error());
    if (!entries.empty()) KnownHeads(entries.front().hash).filed(end.device, end.head);
    return open(path);
}

Result<std::unique_ptr<JobStore>> JobStore::open(const QString& path, Access access)
{
    const QFileInfo info(path);
    if (!info.isFile())
        return failure(Error::Code::FileUnreadable, fmt::format("There is no job at “{}”. Check the name and the drive.", path.toStdString()));
    auto store = std::unique_ptr<JobStore>(new JobStore(info.canonicalFilePath()));
    if (auto ok = store->connect(access); !ok) return tl::unexpected(std::move(ok.error()));
    if (auto ok = store->readAll(); !ok) return tl::unexpected(std::move(ok.error()));
    const bool writable = access == Access::Write && store->readOnlyReason_.empty();
    if (store->schema_ == 1 && writable && store->wrong_.empty()) {
        const auto kept = carryOver(*store);
        if (!kept) return tl::unexpected(kept.error());
        store.reset();  // lets go of the lock: the new file is another one
        auto carried = open(path, access);
        if (carried)
            (*carried)->notice_ = fmt::format("This job was written by an earlier version and was carried over. The file as it was is kept as “{}”.",
                                              QFileInfo(*kept).fileName().toStdString());
        return carried;
    }
    if (!store->wrong_.empty() && access == Access::Write)
        store->readOnlyReason_ =
            fmt::format("This job is damaged: {} Here it can only be read. Save what is left of it (Job menu) and go on there.",
                        store->wrong_.size() == 1 ? store->wrong_.front().message
                                                  : fmt::format("{} And {} more.", store->wrong_.front().message, store->wrong_.size() - 1));
    if (!store->readOnlyReason_.empty() && store->access_ == sqlite::Access::Write) {
        store->access_ = sqlite::Access::Read;
        store->handOver();
    }
    if (writable && store->readOnlyReason_.empty()) store->chooseChain();
    return store;
}

/// Locks where it is to be written, and connects; a file that SQLite refuses is repaired in a copy as far as it goes.
Result<void> JobStore::connect(Access access)
{
    const QFileInfo info(path_);
    const FileHeader header = readFileHeader(path_);
    if (!header.mayBeJob)
        return failure(Error::Code::JobNotClendo, fmt::format("“{}” is not a Clendo job. Choose a file that ends in .clendo.", path_.toStdString()));
    identity_ = identityNow();
    const bool writable = info.isWritable() && QFileInfo(info.absolutePath()).isWritable();
    if (access == Access::Write && !writable) {
        readOnlyReason_ = "This job can only be read: the file or its folder is write-protected. Copy it to where you may write.";
    } else if (access == Access::Write && header.whole) {
        auto answer = JobLock::take(path_);
        lock_ = std::move(answer.lock);
        lockCanBeTaken_ = answer.canBeTakenOver;
        if (!lock_) readOnlyReason_ = std::move(answer.why);
    }
    if (!header.trouble.empty()) wrong_.push_back({"file", "", header.trouble});
    using sqlite::Access::ReadAsItStands;
    for (const auto way : {lock_ ? sqlite::Access::Write : header.unusedLog ? ReadAsItStands : sqlite::Access::Read, ReadAsItStands}) {
        access_ = way;
        if (header.whole && sqlite::connectTo(connection_, path_, way)) return {};
        if (lock_) break;  // what this program alone writes is never read as it stands
    }
    if (header.trouble.empty()) wrong_.push_back({"file", "", "The file is damaged: its tables cannot be read."});
    lock_.reset();
    access_ = ReadAsItStands;
    if (repair()) return {};
    return failure(
        Error::Code::JobDamaged,
        fmt::format("Nothing of “{}” can be read as a job: it is damaged, or never was one. Restore the file from a copy.", path_.toStdString()),
        wrong_.front().message);
}

bool JobStore::repair()
{
    for (const auto page : {FirstPage::AsItIs, FirstPage::New}) {
        sqlite::disconnect(connection_);
        repaired_ = repairedCopy(path_, page);
        if (!repaired_) continue;
        filePath_ = repaired_->fileName();
        // more than the list of tables must be readable: what the tables say
        if (sqlite::connectTo(connection_, filePath_, access_) &&
            sqlite::valueOf(database(), QStringLiteral("SELECT count(*) FROM meta")).toInt() > 0)
            return true;
    }
    return false;
}

Result<void> JobStore::readAll()
{
    schema::Meta meta = schema::readMeta(database(), wrong_);
    if (meta.format != QLatin1String("clendo-job")) {
        if (!readFileHeader(path_).certainlyJob)
            return failure(Error::Code::JobNotClendo,
                           fmt::format("“{}” is not a Clendo job. Choose a file that ends in .clendo.", path_.toStdString()));
        wrong_.push_back({"file", "", "What the job says of itself was changed."});
        meta.schema = schema::version;
    }
    schema_ = meta.schema;
    if (meta.oldestReader > schema::version)
        return failure(Error::Code::JobNewer,
                       "This job was written by a newer Clendo and cannot be read by this one. Update Clendo; the job is unharmed.");
    if (schema_ > schema::version) readOnlyReason_ = "This job was written by a newer Clendo. It can be read here; to file anything, update Clendo.";
    if (schema_ == 1) {
        readSchema1();
        return {};
    }
    heads_ = meta.heads;
    headsKnown_ = wrong_.empty() || !meta.heads.empty();
    JournalRead journal = readJournal(database());
    wrong_.insert(wrong_.end(), journal.wrong.begin(), journal.wrong.end());
    entries_ = std::move(journal.entries);
    const auto losses = lossesIn(entries_);
    const auto chains = checkChains(headsIn(entries_), meta.heads, losses);
    wrong_.insert(wrong_.end(), chains.begin(), chains.end());
    const auto read = static_cast<qint64>(entries_.size() + journal.wrong.size());
    if (wrong_.empty() && read != meta.entries)
        wrong_.push_back({"file", "", fmt::format("The job says that it has {} entries; {} can be read.", meta.entries, entries_.size())});
    const auto there = evidenceHashes();
    if (static_cast<qint64>(there.size()) != meta.evidence)
        wrong_.push_back({"file", "", fmt::format("The job says that it has {} pictures and traces; {} are there.", meta.evidence, there.size())});
    std::set<std::string> lost;
    for (const auto& l : losses) lost.insert(l.evidence.begin(), l.evidence.end());
    for (const auto& sha : evidenceNamedBy(entries_))
        if (Digest::parse(sha) && !there.contains(sha) && !lost.contains(sha))
            wrong_.push_back({"evidence", sha, "A picture or trace is missing from the job file."});
    for (const auto& e : entries_) end_.clock.heard(e.filed);
    return {};
}

void JobStore::readSchema1()
{
    const auto rows = clendo::readSchema1(database(), wrong_);
    if (auto carried = carriedOver(rows)) {
        carried_ = std::move(*carried);
    } else {
        wrong_.push_back({"entry", "", carried.error().message});
        for (const auto& row : rows) {  // what comes before the first that cannot be read
            std::vector<Schema1Row> some(rows.begin(), rows.begin() + (&row - rows.data()));
            if (auto part = carriedOver(some))
                carried_ = std::move(*part);
            else
                break;
        }
    }
    for (const auto& record : carried_) entries_.push_back(entryOf(record));
    const auto there = evidenceHashes();
    for (const auto& sha : evidenceNamedBy(entries_))
        if (Digest::parse(sha) && !there.contains(sha)) wrong_.push_back({"evidence", sha, "A picture or trace is missing from the job file."});
}

/// Goes on with a chain of this computer that ends where it left it, or begins a new one: an entry must never stand beside another of the same place.
void JobStore::chooseChain()
{
    const ChainHeads here = headsOf(headsIn(entries_));
    end_.device = newDevice();
    if (entries_.empty()) return;
    known_.emplace(entries_.front().hash);
    const auto losses = lossesIn(entries_);
    std::int64_t behind = 0;
    for (const auto& [device, left] : known_->ends()) {
        const auto end = here.find(device);
        const auto same = std::find_if(entries_.rbegin(), entries_.rend(),
                                       [&, &d = device, &l = left](const Entry& e) { return e.device == d && e.sequence == l.sequence; });
        if (end != here.end() && same != entries_.rend() && same->hash == left.hash) {
            if (end->second.sequence > end_.head.sequence) end_.device = device, end_.head = end->second;
        } else if (!isNoted(losses, device, left.sequence)) {
            behind += left.sequence - (end == here.end() ? 0 : std::min(left.sequence - 1, end->second.sequence));
        }
    }
    olderThanKnown_ = behind > 0;
    if (olderThanKnown_)
        notice_ =
            fmt::format("This file is not the newest of its job: on this computer {} more {} filed in another copy. Merge the two before you go on.",
                        behind, behind == 1 ? "entry was" : "entries were");
}

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

Result<std::vector<Entry>> JobStore::file(const Act& act, std::span<const Evidence> evidence)
{
    if (!readOnlyReason_.empty()) return failure(Error::Code::JobReadOnly, "Not saved. " + readOnlyReason_);
    if (act.facts.empty()) return std::vector<Entry>();
    Act named = act;
    if (named.id.empty()) named.id = newAct();
    ChainEnd end = end_;
    auto records = recordsOf(named, end);
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
    for (const auto& sha : evidenceNamedBy(read))
        if (!have.contains(sha) && ok)
            if (const auto bytes = source(sha)) ok = schema::addEvidence(db, sha, *bytes);
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
