#pragma once
#include <QString>
#include <span>

#include "record/journal/unite.h"
#include "store/job_store.h"

namespace clendo {

// Jobs made out of jobs: what is left of a damaged one, the union of two, a rescue copy, one of an earlier schema. Each is written beside its place
// and moved there when it is whole.

struct Saved {
    LossesNoted lost;  ///< what is missing; it is filed in the new job too
    std::size_t entries = 0, evidence = 0;
};
/// What is left of a damaged job, as a new job that notes what was lost.
Result<Saved> saveWhatIsLeft(const JobStore& damaged, const QString& to, const std::string& who, std::int64_t now);

struct Merged {
    std::size_t entries = 0, fromA = 0, fromB = 0, both = 0;
    std::vector<Contradiction> contradictions;
};
/// The union of two jobs as a new job; A and B stay as they are. Two different jobs, and damaged ones, are refused.
Result<Merged> mergeJobs(const JobStore& a, const JobStore& b, const QString& to);

/// A job whose file is gone or was replaced, as a new job at `to`: what the file still gives through its open connection, and what was acknowledged.
Result<std::unique_ptr<JobStore>> rescue(const JobStore& lost, std::span<const Entry> acknowledged, const QString& to, const std::string& who,
                                         std::int64_t now);
/// Puts a rescue copy together with its file again: the file takes what only the copy has; where the file is gone it becomes the copy.
Result<void> joinAgain(const JobStore& rescued, const QString& file);

/// Writes a schema-1 job anew in its place; gives the name under which its file is kept.
Result<QString> carryOver(const JobStore& old);

}  // namespace clendo
