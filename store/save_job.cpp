#include "store/save_job.h"

#include <fmt/format.h>
#include <unistd.h>

#include <QFile>
#include <QFileInfo>
#include <algorithm>
#include <unordered_set>

#include "files/files.h"
#include "files/random_name.h"
#include "record/journal/losses.h"

namespace clendo {
namespace {

EvidenceSource evidenceOf(const JobStore& store)
{
    return [&store](const std::string& sha) { return store.evidence(sha); };
}

std::vector<Entry> entriesOf(std::span<const EntryRecord> records)
{
    std::vector<Entry> out;
    for (const auto& r : records) out.push_back(entryOf(r));
    return out;
}

/// Adds an entry about what is lost, in a chain of its own.
void note(std::vector<EntryRecord>& records, const LossesNoted& lost, const std::string& who, std::int64_t now)
{
    ChainEnd end{randomName(12), {}, {}};
    for (const auto& r : records) end.clock.heard(r.filed);
    Act act{who, {lost}, now, now, JobStore::newAct()};
    for (auto& r : recordsOf(act, end)) records.push_back(std::move(r));
}

/// Evidence that entries name and that cannot be had; what was noted before is left out.
std::vector<std::string> missingEvidence(std::span<const Entry> entries, const EvidenceSource& source)
{
    const auto losses = lossesIn(entries);
    std::vector<std::string> out;
    for (const auto& sha : evidenceNamedBy(entries))
        if (!isEvidenceNoted(losses, sha) && !source(sha)) out.push_back(sha);
    return out;
}

}  // namespace

Result<Saved> saveWhatIsLeft(const JobStore& damaged, const QString& to, const std::string& who, std::int64_t now)
{
    std::vector<EntryRecord> records = damaged.records();
    const auto entries = entriesOf(records);
    Saved out;
    out.lost.file = QFileInfo(damaged.path()).fileName().toStdString();
    out.lost.gaps = gapsIn(headsIn(records), damaged.heads(), lossesIn(entries));
    out.lost.evidence = missingEvidence(entries, evidenceOf(damaged));
    out.lost.perhapsMore = !damaged.headsKnown();
    if (records.empty()) return failure(Error::Code::JobDamaged, "Nothing is left of this job that could be saved. Restore the file from a copy.");
    if (!out.lost.gaps.empty() || !out.lost.evidence.empty() || out.lost.perhapsMore) note(records, out.lost, who, now);
    std::set<std::string> evidence = damaged.evidenceHashes();
    for (const auto& sha : evidenceNamedBy(entries)) evidence.insert(sha);
    const auto missing = makeJobFile(to, records, evidence, evidenceOf(damaged), Existing::Keep);
    if (!missing) return tl::unexpected(missing.error());
    out.entries = records.size();
    out.evidence = evidence.size() - missing->size();
    return out;
}

Result<Merged> mergeJobs(const JobStore& a, const JobStore& b, const QString& to)
{
    for (const JobStore* job : {&a, &b})
        if (!job->wrong().empty())
            return failure(Error::Code::JobDamaged, fmt::format("“{}” is damaged: {} Save what is left of it first.", job->path().toStdString(),
                                                                job->wrong().front().message));
    const auto left = a.records(), right = b.records();
    if (!sameJob(left, right))
        return failure(Error::Code::JobOther, "These are two different jobs: their journals do not begin with the same entry.");
    const auto all = unite(left, right);
    std::set<std::string> evidence = a.evidenceHashes(), theirs = b.evidenceHashes();
    evidence.insert(theirs.begin(), theirs.end());
    const auto either = [&](const std::string& sha) {
        auto bytes = a.evidence(sha);
        return bytes ? bytes : b.evidence(sha);
    };
    if (const auto missing = missingEvidence(entriesOf(all), either); !missing.empty())
        return failure(Error::Code::JobDamaged, "A picture or trace of these jobs cannot be read. Save what is left of the damaged one first.",
                       missing.front());
    if (const auto made = makeJobFile(to, all, evidence, either, Existing::Keep); !made) return tl::unexpected(made.error());
    Merged out;
    out.entries = all.size();
    out.both = left.size() + right.size() - all.size();
    out.fromA = left.size() - out.both;
    out.fromB = right.size() - out.both;
    out.contradictions = contradictions(left, right);
    return out;
}

Result<std::unique_ptr<JobStore>> rescue(const JobStore& lost, std::span<const Entry> acknowledged, const QString& to, const std::string& who,
                                         std::int64_t now)
{
    std::vector<EntryRecord> known;
    std::vector<LossesNoted::Gap> unwritable;
    const auto still = lost.records();
    std::unordered_set<Digest, DigestHash> there;
    for (const auto& r : still) there.insert(r.hash);
    for (const auto& e : acknowledged) {
        if (there.contains(e.hash)) continue;
        if (auto record = recordOf(e))
            known.push_back(std::move(*record));
        else
            unwritable.push_back({e.device, e.sequence, e.sequence});
    }
    std::vector<EntryRecord> records = unite(still, known);
    const auto entries = entriesOf(records);
    LossesNoted missing{QFileInfo(lost.path()).fileName().toStdString(), unwritable, missingEvidence(entries, evidenceOf(lost))};
    if (!missing.gaps.empty() || !missing.evidence.empty()) note(records, missing, who, now);
    const auto made = makeJobFile(to, records, evidenceNamedBy(entries), evidenceOf(lost), Existing::Keep);
    if (!made) return tl::unexpected(made.error());
    auto copy = JobStore::open(to);
    if (copy) (*copy)->beginNewChain();
    return copy;
}

Result<void> joinAgain(const JobStore& rescued, const QString& file)
{
    const auto records = rescued.records();
    if (!QFileInfo::exists(file))
        return makeJobFile(file, records, rescued.evidenceHashes(), evidenceOf(rescued), Existing::Keep).map([](const auto&) {});
    auto original = JobStore::open(file);
    if (!original) return tl::unexpected(original.error());
    if (!sameJob((*original)->records(), records))
        return failure(Error::Code::JobOther, fmt::format("“{}” is another job now. The rescue copy stays as it is.", file.toStdString()));
    return (*original)->adopt(records, evidenceOf(rescued));
}

Result<QString> carryOver(const JobStore& old)
{
    const QString kept = freeNameBeside(old.path(), QStringLiteral("schema 1"));
    // a second name for the same file, so that at every moment there is one under the first; where there are no such, a copy
    if (::link(QFile::encodeName(old.path()).constData(), QFile::encodeName(kept).constData()) != 0 && !QFile::copy(old.path(), kept))
        return failure(
            Error::Code::NotSaved,
            "This job was written by an earlier version and cannot be carried over: there is no room for a copy of its file. Free some space.");
    const auto records = old.records();
    return makeJobFile(old.path(), records, old.evidenceHashes(), evidenceOf(old), Existing::Replace).map([&](const auto&) { return kept; });
}

}  // namespace clendo
