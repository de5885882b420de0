#pragma once
#include <QSqlDatabase>
#include <vector>

#include "record/journal/chain.h"
#include "record/journal/filing.h"
#include "record/journal/schema1.h"

namespace clendo {

/// A journal as a job file holds it: what is as it was filed, in the order of the journal, and what is not.
struct JournalRead {
    std::vector<Entry> entries;
    std::vector<Wrong> wrong;
    std::int64_t last = 0;  ///< the line of the last one
};

/// All entries whose hash is right. Rows that SQLite cannot give are passed over. What they say is read on all cores.
/// `behind`: only what stands behind this line.
JournalRead readJournal(const QSqlDatabase& db, std::int64_t behind = 0);
/// The same as records, for another file; the bodies stay text.
std::vector<EntryRecord> readRecords(const QSqlDatabase& db);
/// Of a job of schema 1.
std::vector<Schema1Row> readSchema1(const QSqlDatabase& db, std::vector<Wrong>& wrong);

}  // namespace clendo
