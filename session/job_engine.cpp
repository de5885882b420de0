#include "session/job_engine.h"

#include <fmt/format.h>

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <algorithm>
#include <chrono>
#include <set>

#include "files/files.h"
#include "files/log_file.h"
#include "record/journal/acts.h"
#include "record/rules/cable_findings.h"
#include "record/state/complete_act.h"
#include "record/state/rules.h"
#include "result/guarded.h"
#include "store/save_job.h"

namespace clendo {
namespace {

GrowingFold foldOf(std::span<const Entry> entries, std::int64_t now)
{
    std::vector<std::string> troubles;
    const auto unread = std::count_if(entries.begin(), entries.end(), [](const Entry& e) { return std::holds_alternative<UnknownFact>(e.fact); });
    if (unread > 0)
        troubles.push_back(fmt::format("{} of this job say what this version does not know; they are kept and change nothing.",
                                       unread == 1 ? "1 entry" : fmt::format("{} entries", unread)));
    GrowingFold fold{Rules(dataFolder()), std::move(troubles)};
    (void)fold.update(entries, now / 1'000'000);
    return fold;
}

ReadJob readOf(std::unique_ptr<JobStore> store, std::int64_t now)
{
    EntryLog journal(store->takeEntries());
    GrowingFold fold = foldOf(journal.all(), now);
    store->handOver();
    return {std::move(store), std::move(journal), std::move(fold)};
}

/// Where a rescue copy of a job may be written: beside it, else where the user keeps documents.
QString rescuePlace(const QString& path)
{
    const QString name = QStringLiteral("rescued ") + QDateTime::currentDateTime().toString(QStringLiteral("yyyy-MM-dd HHmm"));
    QDir folder = QFileInfo(path).dir();
    if (!folder.exists() || !QFileInfo(folder.path()).isWritable())
        folder.setPath(QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation));
    if (!folder.exists()) folder = QDir::home();
    return freeNameBeside(folder.filePath(QFileInfo(path).fileName()), name);
}

}  // namespace

std::int64_t timeOfDay()
{
    return std::chrono::duration_cast<std::chrono::microseconds>(std::chrono::system_clock::now().time_since_epoch()).count();
}

Result<ReadJob> readJob(const QString& path, JobStore::Access access, const Clock& clock)
{
    return guarded([&] { return JobStore::open(path, access).map([&](auto store) { return readOf(std::move(store), clock()); }); });
}

Result<ReadJob> createJob(const QString& path, const JobSettings& settings, const std::string& who)
{
    const std::int64_t now = timeOfDay();
    return JobStore::create(path, {who, settingFacts(settings), now, now}).map([&](auto store) { return readOf(std::move(store), now); });
}

JobEngine::JobEngine(ReadJob job, Clock clock, std::function<void(const JobSnapshot&)> published, Said said)
    : store_(std::move(job.store)),
      journal_(std::move(job.journal)),
      fold_(std::move(job.fold)),
      clock_(std::move(clock)),
      published_(std::move(published)),
      said_(std::move(said)),
      cursor_(store_->opened())
{
    store_->subscribe([this] { takeIn(); });
    noteFile();
}

JobSnapshot JobEngine::snapshot() { return {number_, fold_.share(), journal_, file_, std::exchange(changes_, {})}; }

void JobEngine::publish()
{
    if (changes_.none()) return;
    ++number_;
    published_(snapshot());
}

void JobEngine::noteFile()
{
    file_ = std::make_shared<const JobFile>(
        JobFile{store_->path(), store_->readOnlyReason(), store_->lockCanBeTaken(), store_->wrong(), store_->notice(), rescuedFrom_});
}

void JobEngine::fold()
{
    const Changes changed = fold_.update(journal_.all(), seconds());
    // what the readings of a cable say together is worked out here, so that who shows it only reads it
    const JobState& state = fold_.state();
    std::set<const CablePlan*> read;
    for (const auto& id : changed.links)
        if (const Link* link = state.link(id)) read.insert(link->cable);
    for (const auto* cable : read) static_cast<void>(cableModel(state, *cable));
    changes_.add(changed);
}

std::optional<std::int64_t> JobEngine::tick()
{
    const std::int64_t now = seconds();
    if (const auto due = fold_.nextAgeing(); due && *due <= now) fold();
    const bool others = !store_->readOnlyReason().empty() && store_->wrong().empty();  // whoever writes is alone
    if (others) store_->listen();
    publish();
    constexpr std::int64_t soon = 2, late = 60;  // a clock may be set meanwhile
    if (others) return soon;
    const auto next = fold_.nextAgeing();
    return next ? std::optional(std::clamp<std::int64_t>(*next - now, 1, late)) : std::nullopt;
}

/// What others filed in the same store.
void JobEngine::takeIn()
{
    auto came = store_->since(cursor_);
    if (!came) return said_(came.error().message, true);
    cursor_ = came->next;
    if (came->entries.empty()) return;
    const bool behind = journal_.empty() || filedBefore(journal_.back(), came->entries.front());
    if (behind) {
        journal_.append(std::move(came->entries));
    } else {
        std::vector<Entry> all(journal_.all().begin(), journal_.all().end());
        std::move(came->entries.begin(), came->entries.end(), std::back_inserter(all));
        std::sort(all.begin(), all.end(), filedBefore);
        journal_ = EntryLog(std::move(all));
    }
    fold();
}

Result<void> JobEngine::file(Filing filing, const std::string& who)
{
    const std::int64_t now = clock_();
    const Act act{who, completeAct(std::move(filing.facts), fold_.state()), filing.happened == 0 ? now : std::min(filing.happened, now), now,
                  JobStore::newAct()};
    auto filed = append(act, filing.evidence);
    if (!filed && filed.error().code == Error::Code::JobMoved)
        if (const auto rescued = goOnInRescueCopy(who)) {
            // the lost file may have taken it before it was seen to be lost: then it is in the copy
            const auto all = journal_.all();
            const bool there = std::any_of(all.rbegin(), all.rend(), [&](const Entry& e) { return e.act == act.id; });
            filed = there ? Result<void>() : append(act, filing.evidence);
        }
    if (filed) keepRules(act);
    publish();
    return filed;
}

Result<void> JobEngine::append(const Act& act, std::span<const Evidence> evidence)
{
    return store_->append(act, evidence).map([this](std::vector<Entry> filed) {
        journal_.append(std::move(filed));
        fold();
    });
}

/// What the job uses now and does not hold yet goes in with the act that brought it; where that fails, with the next.
void JobEngine::keepRules(const Act& act)
{
    auto rules = rulesToKeep(fold_.state());
    if (!rules.empty()) (void)append({act.who, std::move(rules), act.happened, act.now, act.id}, {});
}

Result<void> JobEngine::goOnInRescueCopy(const std::string& who)
{
    const QString lost = store_->path();
    const std::size_t lossesBefore = fold_.state().losses.size();
    auto copy = rescue(*store_, journal_.all(), rescuePlace(lost), who, clock_());
    if (!copy) return tl::unexpected(copy.error());
    if (rescuedFrom_.isEmpty()) rescuedFrom_ = lost;
    store_ = std::move(*copy);
    store_->subscribe([this] { takeIn(); });
    cursor_ = store_->opened();
    journal_ = EntryLog(store_->takeEntries());
    fold_ = foldOf(journal_.all(), clock_());
    changes_.all = true;
    noteFile();
    const bool whole = fold_.state().losses.size() == lossesBefore;
    said_(fmt::format("The file of this job is no longer where it was: it was deleted, moved or replaced. {}: it goes on in “{}”. Job menu: join it "
                      "with its file again.",
                      whole ? "Nothing that was filed is lost" : "A part is in the lost file only, and noted in the journal",
                      QDir::toNativeSeparators(store_->path()).toStdString()),
          true);
    return {};
}

Result<QString> JobEngine::joinAgain()
{
    return clendo::joinAgain(*store_, rescuedFrom_).map([this] { return rescuedFrom_; });
}

Result<void> JobEngine::sign(const std::string& subject, const std::string& remark, const std::string& who)
{
    auto bound = boundSignature(fold_.state(), subject, remark);
    if (!bound) return failure(Error::Code::StepRefused, fmt::format("There is no link or cable “{}” in this job to be signed.", subject));
    return file({{bound->sign}, {std::move(bound->record)}, 0}, who);
}

Result<std::string> JobEngine::takeBackLast(const std::string& who)
{
    const auto last = lastActOf(journal_.all(), who, store_->ownDevices());
    if (last.empty()) return failure(Error::Code::NotSaved, "There is nothing of yours to take back.");
    std::vector<Fact> corrections;
    for (const Entry* e : last) corrections.emplace_back(Corrected{e->hash, "taken back by hand"});
    const std::string sentence = sentenceOf(last.front()->fact, fold_.state());
    const auto others = last.size() - 1;
    return file({std::move(corrections), {}, 0}, who).map([&] {
        return others == 0
                   ? fmt::format("Taken back: {}. It stays in the journal as corrected.", sentence)
                   : fmt::format("Taken back: {}, and {} more that were filed with it. They stay in the journal as corrected.", sentence, others);
    });
}

}  // namespace clendo
