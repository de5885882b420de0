#include "record/journal/entry_log.h"

#include <iterator>

namespace clendo {

EntryLog::EntryLog(std::vector<Entry> entries) { hold(std::move(entries)); }

/// With room for a season's work: what is there is not moved again soon.
void EntryLog::hold(std::vector<Entry> entries)
{
    constexpr std::size_t least = 4096;
    entries.reserve(entries.size() + entries.size() / 2 + least);
    kept_ = std::make_shared<std::vector<Entry>>(std::move(entries));
    first_ = kept_->data();
    size_ = kept_->size();
}

void EntryLog::append(std::vector<Entry> fresh)
{
    // another copy has gone on already, or there is no room: what is shown elsewhere stays as it is
    const bool alone = kept_ && kept_->size() == size_ && kept_->capacity() - size_ >= fresh.size();
    if (!alone) {
        std::vector<Entry> mine;
        mine.reserve(size_ + fresh.size());
        mine.assign(first_, first_ + size_);
        hold(std::move(mine));
    }
    kept_->insert(kept_->end(), std::make_move_iterator(fresh.begin()), std::make_move_iterator(fresh.end()));
    size_ = kept_->size();
}

}  // namespace clendo
