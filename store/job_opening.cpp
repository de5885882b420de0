// Making and opening a job: locks, checks, repairs, the chain to go on with.
#include <fmt/format.h>

#include <QDir>
#include <QFileInfo>
#include <algorithm>

#include "files/random_name.h"
#include "record/fold/signatures.h"
#include "record/journal/losses.h"
#include "store/file_header.h"
#include "store/job_schema.h"
#include "store/job_store.h"
#include "store/journal_reading.h"
#include "store/save_job.h"

namespace clendo {
namespace {

std::string newDevice() { return randomName(12); }

}  // namespace

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
    if (store->wrong_.empty() && store->schema_ == schema::version) store->chooseChain();
    return store;
}

/// Locks where it is to be written, and connects; a file that SQLite refuses is repaired in a copy as far as it goes.
Result<void> JobStore::connect(Access access)
{
    const QFileInfo info(path_);
    const FileHeader header = readFileHeader(path_);
    certainlyJob_ = header.certainlyJob;
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
        if (!certainlyJob_)
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
    opened_ = {journal.last};
    wrong_.insert(wrong_.end(), journal.wrong.begin(), journal.wrong.end());
    entries_ = std::move(journal.entries);
    const auto losses = lossesIn(entries_);
    const auto chains = checkChains(headsIn(entries_), meta.heads, losses);
    wrong_.insert(wrong_.end(), chains.begin(), chains.end());
    const auto underSignatures = missingUnderSignatures(entries_, losses);
    wrong_.insert(wrong_.end(), underSignatures.begin(), underSignatures.end());
    const auto read = static_cast<qint64>(entries_.size() + journal.wrong.size());
    if (wrong_.empty() && read != meta.entries)
        wrong_.push_back({"file", "", fmt::format("The job says that it has {} entries; {} can be read.", meta.entries, entries_.size())});
    if (const auto there = evidenceHashes().size(); static_cast<qint64>(there) != meta.evidence)
        wrong_.push_back({"file", "", fmt::format("The job says that it has {} pictures and traces; {} are there.", meta.evidence, there)});
    checkEvidence(losses);
    for (const auto& e : entries_) end_.clock.heard(e.filed);
    return {};
}

void JobStore::readSchema1()
{
    auto carried = carriedOver(clendo::readSchema1(database(), wrong_));
    if (carried.trouble) wrong_.push_back({"entry", "", carried.trouble->message});
    carried_ = std::move(carried.entries);
    for (const auto& record : carried_) entries_.push_back(entryOf(record));
    checkEvidence({});
}

void JobStore::checkEvidence(std::span<const LossesNoted> losses)
{
    const auto there = evidenceHashes();
    for (const auto& sha : evidenceNamedBy(entries_))
        if (!there.contains(sha) && !isEvidenceNoted(losses, sha))
            wrong_.push_back({"evidence", sha, "A picture or trace is missing from the job file."});
}

void JobStore::beginNewChain()
{
    end_.device = newDevice();
    end_.head = {};
}

/// Goes on with a chain of this computer that ends where it left it, or begins a new one: an entry must never stand beside another of the same place.
void JobStore::chooseChain()
{
    const ChainHeads here = headsOf(headsIn(entries_));
    beginNewChain();
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
        } else if (!isNoted(losses, {device, left.sequence, left.sequence})) {
            behind += left.sequence - (end == here.end() ? 0 : std::min(left.sequence - 1, end->second.sequence));
        }
    }
    olderThanKnown_ = behind > 0;
    if (olderThanKnown_)
        notice_ =
            fmt::format("This file is not the newest of its job: on this computer {} more {} filed in another copy. Merge the two before you go on.",
                        behind, behind == 1 ? "entry was" : "entries were");
}

}  // namespace clendo
