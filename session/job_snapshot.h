#pragma once
#include <QString>
#include <memory>
#include <string>
#include <vector>

#include "record/journal/chain.h"
#include "record/journal/entry_log.h"
#include "record/state/changes.h"
#include "record/state/state.h"

namespace clendo {

/// What is to be said of the file in which a job is kept.
struct JobFile {
    QString path;
    std::string readOnlyReason;  ///< empty: facts can be filed
    bool lockCanBeTaken = false;
    std::vector<Wrong> wrong;  ///< what is not as it was filed
    std::string notice;        ///< of how it was opened; empty: nothing
    QString rescuedFrom;       ///< where the file was before it was lost while the job was open and a rescue copy took its place; empty: it is there
};

/// A job as it was at one moment. Nothing in it ever changes; copies are cheap, and any thread may read them.
struct JobSnapshot {
    std::uint64_t number = 0;  ///< grows by one from each to the next
    std::shared_ptr<const JobState> state;
    EntryLog journal;
    std::shared_ptr<const JobFile> file;
    Changes changes;  ///< since the one before
};

}  // namespace clendo
