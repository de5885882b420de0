#pragma once
#include <QSqlDatabase>
#include <QStringList>

#include "record/journal/chain.h"
#include "result/result.h"

namespace clendo::schema {

inline constexpr int version = 2;  ///< docs/job-file.md
inline constexpr int applicationId = 0x436c656e;

/// Makes the tables of an empty job within the open transaction.
Result<void> make(const QSqlDatabase& db);

/// What a job says of itself.
struct Meta {
    QString format;
    int schema = 0, oldestReader = 0;
    qint64 entries = 0, evidence = 0;
    ChainHeads heads;
};
/// Nothing of what cannot be read; `wrong` gets what is not as this version writes it.
Meta readMeta(const QSqlDatabase& db, std::vector<Wrong>& wrong);

/// Appends entries and sets count and heads, within the open transaction.
Result<void> append(const QSqlDatabase& db, std::span<const EntryRecord> entries);
/// Adds a picture or trace where it is not there yet, within the open transaction.
Result<void> addEvidence(const QSqlDatabase& db, const std::string& sha256, const std::string& bytes);

}  // namespace clendo::schema
