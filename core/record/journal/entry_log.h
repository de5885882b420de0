#pragma once
#include <memory>
#include <span>
#include <vector>

#include "record/facts/facts.h"

namespace clendo {

/// The entries of a journal, one after the other in memory. Copies are cheap and share them: a copy goes on showing what it showed, while entries are
/// added behind. The one to which they are added is used in one thread, the others only read, in any.
class EntryLog {
public:
    EntryLog() = default;
    explicit EntryLog(std::vector<Entry> entries);

    [[nodiscard]] std::span<const Entry> all() const { return {first_, size_}; }
    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }
    const Entry& operator[](std::size_t i) const { return first_[i]; }
    [[nodiscard]] const Entry& front() const { return first_[0]; }
    [[nodiscard]] const Entry& back() const { return first_[size_ - 1]; }

    void append(std::vector<Entry> fresh);

private:
    void hold(std::vector<Entry> entries);

    std::shared_ptr<std::vector<Entry>> kept_;  ///< looked at by whoever appends only
    const Entry* first_ = nullptr;
    std::size_t size_ = 0;
};

}  // namespace clendo
