#pragma once
#include <functional>
#include <span>
#include <string>
#include <vector>

#include "files/evidence.h"
#include "record/journal/filing.h"

namespace clendo {

/// A place in the order in which entries came into a store.
struct StoreCursor {
    std::int64_t position = 0;  ///< of the last entry before it
};

/// Where a job's journal and evidence are kept: one file, or later what a crew shares. A store belongs to one thread at a time.
class JournalStore {
public:
    struct Came {
        std::vector<Entry> entries;  ///< in the order of the journal
        StoreCursor next;            ///< behind them
    };

    JournalStore() = default;
    JournalStore(const JournalStore&) = delete;
    JournalStore& operator=(const JournalStore&) = delete;
    virtual ~JournalStore() = default;

    /// Files an act with its evidence, wholly or not at all; gives its entries.
    virtual Result<std::vector<Entry>> append(Act act, std::span<const Evidence> evidence) = 0;
    /// What came in behind a place, whoever filed it.
    [[nodiscard]] virtual Result<Came> since(StoreCursor cursor) const = 0;
    /// The bytes of a picture, trace or signed record as they came.
    [[nodiscard]] virtual Result<std::string> evidence(const std::string& sha256) const = 0;
    /// `heard` is called, in the thread of the store, when others filed something.
    virtual void subscribe(std::function<void()> heard) = 0;
    /// Looks whether others filed something.
    virtual void listen() = 0;
};

}  // namespace clendo
