#pragma once
#include <QString>

#include "store/job_store.h"

namespace clendo {

// A job as a folder of plain files, to be read without Clendo and taken in elsewhere with nothing lost:
//   journal.jsonl     each line one entry, exactly as it is hashed (docs/job-file.md): its SHA-256 is the entry's name
//   heads.json        how many entries each device filed, and the last of them: what is missing at the end is seen
//   evidence/<sha256> pictures, traces and signed records, as they came
//   README.txt        what this is

struct JobFolder {
    std::size_t entries = 0, evidence = 0;
};

/// Writes a job as a folder, which must not exist yet; it is there as a whole or not at all. Damaged jobs are refused.
Result<JobFolder> exportJob(const JobStore& job, const QString& folder);

/// Makes a job of such a folder. What was changed, cut or left out is refused and said: JobDamaged; a folder that is none: JobNotClendo.
Result<JobFolder> importJob(const QString& folder, const QString& to);

}  // namespace clendo
