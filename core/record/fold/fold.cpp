#include "record/fold/fold.h"

#include "record/fold/growing_fold.h"
#include "record/state/rules.h"

namespace clendo {

JobState fold(std::span<const Entry> entries, const Rules& rules, std::int64_t now)
{
    GrowingFold growing(rules);
    growing.update(entries, now);
    return std::move(growing).takeState();
}

}  // namespace clendo
