#include "app/job_session.h"

#include <fmt/format.h>

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <algorithm>
#include <chrono>

#include "files/files.h"
#include "files/log_file.h"
#include "record/journal/acts.h"
#include "record/state/fold.h"
#include "record/state/growing_fold.h"
#include "record/state/rules.h"
#include "result/guarded.h"
#include "store/save_job.h"

namespace clendo {
namespace {

GrowingFold foldOf(std::span<const Entry> entries)
{
    std::vector<std::string> troubles;
    const auto unread = std::count_if(entries.begin(), entries.end(), [](const Entry& e) { return std::holds_alternative<UnknownFact>(e.fact); });
    if (unread > 0)
        troubles.push_back(fmt::format("{} entries of this job say what this version does not know; they are kept and change nothing.", unread));
    GrowingFold fold{Rules(dataFolder()), std::move(troubles)};
    fold.update(entries, QDateTime::currentSecsSinceEpoch());
    return fold;
}

ReadJob readOf(std::unique_ptr<JobStore> store)
{
    std::vector<Entry> entries = store->takeEntries();
    GrowingFold fold = foldOf(entries);
    store->handOver();
    return {std::move(store), std::move(entries), std::move(fold)};
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

JobSession::JobSession(ReadJob job) : store_(std::move(job.store)), entries_(std::move(job.entries)), fold_(std::move(job.fold)) {}

Result<ReadJob> JobSession::read(const QString& path)
{
    return guarded([&] { return JobStore::open(path).map(readOf); });
}

Result<ReadJob> JobSession::create(const QString& path, const JobSettings& settings, const QString& who)
{
    const std::int64_t now = timeOfDay();
    return JobStore::create(path, {who.toStdString(), settingFacts(settings), now, now}).map(readOf);
}

void JobSession::say(const Error& error)
{
    programLog().write(error);
    emit said(QString::fromStdString(error.message), true);
}

void JobSession::tick()
{
    if (!agedSince(state(), QDateTime::currentSecsSinceEpoch())) return;
    fold_.update(entries_, QDateTime::currentSecsSinceEpoch());
    emit changed();
}

std::int64_t JobSession::believedTime(std::int64_t stamp, std::int64_t otherwise) const
{
    const bool believed = !entries_.empty() && stamp >= entries_.front().happened && stamp <= timeOfDay();
    return believed ? stamp : otherwise;
}

bool JobSession::file(const Fact& fact, std::span<const Evidence> evidence) { return file(std::vector{fact}, evidence); }

bool JobSession::file(std::vector<Fact> facts, std::span<const Evidence> evidence, std::int64_t happened)
{
    const std::int64_t now = timeOfDay();
    const Act act{who_.toStdString(), completeAct(std::move(facts), state()), happened == 0 ? now : std::min(happened, now), now, JobStore::newAct()};
    auto filed = fileAct(act, evidence);
    if (!filed && filed.error().code == Error::Code::JobMoved)
        if (const auto rescued = goOnInRescueCopy()) {
            // the lost file may have taken it before it was seen to be lost: then it is in the copy
            const bool there = std::any_of(entries_.rbegin(), entries_.rend(), [&](const Entry& e) { return e.act == act.id; });
            filed = there ? Result<void>() : fileAct(act, evidence);
        }
    if (!filed) {
        say(filed.error());
        return false;
    }
    keepRules(act);
    emit changed();
    return true;
}

Result<void> JobSession::fileAct(const Act& act, std::span<const Evidence> evidence)
{
    return store_->file(act, evidence).map([this](std::vector<Entry> filed) {
        entries_.insert(entries_.end(), std::make_move_iterator(filed.begin()), std::make_move_iterator(filed.end()));
        fold_.update(entries_, QDateTime::currentSecsSinceEpoch());
    });
}

/// What the job uses now and does not hold yet goes in with the act that brought it; where that fails, with the next.
void JobSession::keepRules(const Act& act)
{
    auto rules = rulesToKeep(state());
    if (!rules.empty()) (void)fileAct({act.who, std::move(rules), act.happened, act.now, act.id}, {});
}

Result<void> JobSession::goOnInRescueCopy()
{
    const QString lost = store_->path();
    const std::size_t lossesBefore = state().losses.size();
    auto copy = rescue(*store_, entries_, rescuePlace(lost), who_.toStdString(), timeOfDay());
    if (!copy) return tl::unexpected(copy.error());
    if (rescuedFrom_.isEmpty()) rescuedFrom_ = lost;
    store_ = std::move(*copy);
    entries_ = store_->takeEntries();
    fold_ = foldOf(entries_);
    const bool whole = state().losses.size() == lossesBefore;
    emit said(
        tr("The file of this job is no longer where it was: it was deleted, moved or replaced. %1: it goes on in “%2”. Job menu: join it with its "
           "file again.")
            .arg(whole ? tr("Nothing that was filed is lost") : tr("A part is in the lost file only, and noted in the journal"),
                 QDir::toNativeSeparators(store_->path())),
        true);
    return {};
}

Result<QString> JobSession::joinAgain()
{
    return clendo::joinAgain(*store_, rescuedFrom_).map([this] { return rescuedFrom_; });
}

bool JobSession::sign(const std::string& subject, const std::string& remark)
{
    const auto bound = boundSignature(state(), subject, remark);
    return bound && file(bound->sign, std::span(&bound->record, 1));
}

std::vector<Signature> JobSession::signatures(const std::string& subject) const
{
    return signaturesIn(
        entries_, state(), Rules(dataFolder()), [this](const std::string& sha) { return store_->evidence(sha); }, subject);
}

bool JobSession::takeBackLast()
{
    const auto last = lastActOf(entries_, who_.toStdString(), store_->ownDevices());
    if (last.empty()) {
        emit said(tr("There is nothing of yours to take back."), true);
        return false;
    }
    std::vector<Fact> corrections;
    for (const Entry* e : last) corrections.emplace_back(Corrected{e->hash, "taken back by hand"});
    const QString sentence = QString::fromStdString(sentenceOf(last.front()->fact, state()));
    const auto others = static_cast<int>(last.size()) - 1;
    if (!file(std::move(corrections))) return false;
    emit said(others == 0
                  ? tr("Taken back: %1. It stays in the journal as corrected.").arg(sentence)
                  : tr("Taken back: %1, and %2 more that were filed with it. They stay in the journal as corrected.").arg(sentence).arg(others),
              false);
    return true;
}

}  // namespace clendo
