#pragma once
#include <string>
#include <vector>

#include "record/facts/facts.h"
#include "record/journal/chain.h"
#include "record/journal/hybrid_clock.h"

namespace clendo {

/// One action of a person: what it files, and when it was done. Times are microseconds since 1970-01-01 UTC.
struct Act {
    std::string who;
    std::vector<Fact> facts;
    std::int64_t happened = 0;  ///< the picture was taken, the key was pressed, the value was read
    std::int64_t now = 0;       ///< the time of day at which it is filed
    std::string id{};           ///< of the act; empty: a new one is made
};

/// The end of the chain of one device, where new entries go on.
struct ChainEnd {
    std::string device;
    ChainHead head;
    HybridClock clock;
};

/// The entries of an act as they are kept; `end` goes on behind them.
std::vector<EntryRecord> recordsOf(const Act& act, ChainEnd& end);
/// The record of an entry again, as it was filed; an Error where this version would write its fact otherwise.
Result<EntryRecord> recordOf(const Entry& entry);
/// An entry from its record. A body that cannot be read gives an UnknownFact.
Entry entryOf(EntryRecord record);
Entry entryOf(EntryHead head, std::string_view kind, std::string_view body);

}  // namespace clendo
