#pragma once
#include "files/evidence.h"
#include "record/rules/reels.h"
#include "report/certificate/folder.h"

namespace clendo {

/// The report of a reel: one page, its record as JSON, its traces and photographs as they came, in a folder of its own within `folder`, signed by
/// `key` where there is one. `now`: seconds since 1970-01-01 UTC. An Error where there is no reel of that name.
Result<PlacedFiles> writeReelReport(const JobState& state, const std::string& reel, const EvidenceSource& evidence, const QString& folder,
                                    const seal::SigningKey* key, std::int64_t now);

}  // namespace clendo
