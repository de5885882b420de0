#pragma once
#include <QString>
#include <set>
#include <span>

#include "files/evidence.h"
#include "record/facts/entry.h"

namespace clendo {

enum class Existing { Keep, Replace };

/// Makes a job file of the newest schema: beside its place, on the disk, and moved there when it is whole. What was there is kept (an Error) or
/// replaced as a whole. `evidence`: what to take from `source`; what that cannot give is left out and returned.
Result<std::set<std::string>> makeJobFile(const QString& path, std::span<const EntryRecord> entries, const std::set<std::string>& evidence,
                                          const EvidenceSource& source, Existing existing);

/// A name beside `path` that nobody has: "job (saved).clendo", "job (saved 2).clendo".
QString freeNameBeside(const QString& path, const QString& what);

}  // namespace clendo
