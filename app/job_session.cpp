#include "app/job_session.h"

#include <QDateTime>

#include "files/files.h"
#include "record/corrections.h"

namespace clendo {

namespace {

ReadJob readAll(std::unique_ptr<JobStore> store)
{
    int unreadable = 0;
    std::vector<Entry> entries;
    if (auto read = store->entries(&unreadable)) entries = std::move(*read);
    std::vector<std::string> troubles;
    if (unreadable > 0) troubles.push_back(std::to_string(unreadable) + " entries of this job could not be read; they are kept in the file.");
    GrowingFold fold{Rules(dataFolder()), std::move(troubles)};
    fold.update(entries, QDateTime::currentSecsSinceEpoch());
    return {std::move(store), std::move(entries), std::move(fold)};
}

}  // namespace

JobSession::JobSession(std::unique_ptr<JobStore> store) : JobSession(readAll(std::move(store))) {}

JobSession::JobSession(ReadJob job) : store_(std::move(job.store)), entries_(std::move(job.entries)), fold_(std::move(job.fold)) {}

Result<ReadJob> JobSession::read(const QString& path)
{
    return JobStore::open(path).map([](std::unique_ptr<JobStore> store) {
        ReadJob job = readAll(std::move(store));
        job.store->handOver();
        return job;
    });
}

void JobSession::tick()
{
    if (!agedSince(state(), QDateTime::currentSecsSinceEpoch())) return;
    fold_.update(entries_, QDateTime::currentSecsSinceEpoch());
    emit changed();
}

bool JobSession::file(const Fact& fact, const Evidence* evidence) { return file(std::vector{fact}, evidence); }

bool JobSession::file(const std::vector<Fact>& facts, const Evidence* evidence)
{
    auto filed = store_->file(facts, who_.toStdString(), QDateTime::currentSecsSinceEpoch(), evidence);
    if (!filed) {
        emit said(QString::fromStdString(filed.error().message), true);
        return false;
    }
    entries_.insert(entries_.end(), std::make_move_iterator(filed->begin()), std::make_move_iterator(filed->end()));
    fold_.update(entries_, QDateTime::currentSecsSinceEpoch());
    emit changed();
    return true;
}

bool JobSession::takeBackLast()
{
    const auto corrected = correctedEntries(entries_);
    for (auto it = entries_.rbegin(); it != entries_.rend(); ++it) {
        if (std::holds_alternative<Corrected>(it->fact) || corrected.contains(it->id)) continue;
        if (std::holds_alternative<JobSet>(it->fact) || std::holds_alternative<CablePlanned>(it->fact) ||
            std::holds_alternative<ProfileKept>(it->fact))
            break;
        const std::int64_t id = it->id;
        // one picture of a ferrule is a look at each of its fibres: they go back together
        std::vector<Fact> corrections{Corrected{id, "taken back by hand"}};
        if (const auto* seen = std::get_if<FaceSeen>(&it->fact))
            for (auto same = std::next(it); same != entries_.rend(); ++same) {
                const auto* other = std::get_if<FaceSeen>(&same->fact);
                if (!other || other->picture != seen->picture) break;
                corrections.emplace_back(Corrected{same->id, "taken back by hand"});
            }
        const QString kind = QString::fromStdString(std::string(kindOf(it->fact))).replace(QLatin1Char('_'), QLatin1Char(' '));
        if (!file(corrections, nullptr)) return false;
        emit said(tr("Taken back: %1. It stays in the journal as corrected.").arg(kind), false);
        return true;
    }
    emit said(tr("There is nothing to take back."), true);
    return false;
}

}  // namespace clendo
