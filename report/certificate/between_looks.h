#pragma once
#include "files/evidence.h"
#include "record/output/between_looks.h"
#include "report/certificate/folder.h"

namespace clendo {

/// “Who could it have been”: one page, its record as JSON and the two pictures, in a folder of its own within `folder`, signed by `key` where there
/// is one. `now`: seconds since 1970-01-01 UTC.
Result<PlacedFiles> writeBetweenLooks(const BetweenLooks& between, const JobState& state, const EvidenceSource& evidence, const QString& folder,
                                      const seal::SigningKey* key, std::int64_t now);

}  // namespace clendo
