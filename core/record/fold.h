#pragma once
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "record/fact_effects.h"

namespace clendo {

/// What a journal says while it grows: entries are applied as they come. What changes the meaning of earlier ones (settings, plan, criteria, a
/// correction) makes it begin anew. However it was fed, its state is that of fold() over the whole journal.
class GrowingFold {
public:
    /// `troubles`: sentences that are none of the journal's own, about lines that could not be read.
    explicit GrowingFold(Rules rules, std::vector<std::string> troubles = {}) : rules_(std::move(rules)), troubles_(std::move(troubles)) {}

    /// `journal`: what it had at the last update, and perhaps more. `now` as in fold().
    void update(std::span<const Entry> journal, std::int64_t now);

    /// To be asked after an update only.
    [[nodiscard]] const JobState& state() const { return effects_->state(); }
    [[nodiscard]] JobState takeState() && { return std::move(effects_->state()); }

private:
    void begin(std::span<const Entry> journal);
    void apply(std::span<const Entry> fresh);
    std::vector<FaceNode*> touched();
    void settle(std::int64_t now);

    Rules rules_;
    std::vector<std::string> troubles_;
    std::optional<FactEffects> effects_;
    std::set<std::int64_t> corrected_;
    std::size_t applied_ = 0;          ///< entries
    std::vector<FaceNode*> overlaid_;  ///< faces that age or suspicion made others than their own looks say
    ContactTracing tracing_;
};

}  // namespace clendo
