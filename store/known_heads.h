#pragma once
#include <QString>

#include "record/journal/chain.h"

namespace clendo {

/// What this computer filed in jobs, kept outside of them ($XDG_STATE_HOME/clendo/heads): the ends of its own chains. So a job file that came back
/// from a backup, or a second copy of one, is noticed, and never gets two entries at one place of a chain. Where nothing can be kept, nothing is
/// known.
class KnownHeads {
public:
    /// `job`: the hash of its first entry.
    explicit KnownHeads(const Digest& job);

    [[nodiscard]] const ChainHeads& ends() const { return ends_; }
    void filed(const std::string& device, const ChainHead& head);

private:
    QString path_;
    ChainHeads ends_;
};

}  // namespace clendo
