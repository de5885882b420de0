#pragma once
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "record/journal/acts.h"
#include "record/journal/order.h"
#include "record/state/fact_effects.h"
#include "record/state/rules.h"

namespace clendo {

/// What a journal says while it grows: entries are applied as they come, in the order of their effect (journal/order.h). What changes the meaning of
/// earlier ones (settings, plan, criteria, a correction), and what happened before entries that were applied already, makes it begin anew. However it
/// was fed, its state is that of fold() over the whole journal.
class GrowingFold {
public:
    /// `troubles`: sentences that are none of the journal's own, about lines that could not be read.
    explicit GrowingFold(Rules rules, std::vector<std::string> troubles = {}) : rules_(std::move(rules)), troubles_(std::move(troubles)) {}

    /// `journal`: in its order; mostly what it had at the last update, and perhaps more. `now` as in fold().
    void update(std::span<const Entry> journal, std::int64_t now);

    /// To be asked after an update only.
    [[nodiscard]] const JobState& state() const { return effects_->state(); }
    [[nodiscard]] JobState takeState() && { return std::move(effects_->state()); }

private:
    bool grows(std::span<const Entry> journal);
    void begin(std::span<const Entry> journal);
    void apply(std::span<const Entry> fresh, std::span<const std::int64_t> times);
    std::vector<FaceNode*> touched();
    void settle(std::int64_t now);
    void settleLinks(const std::set<std::string>& links);

    Rules rules_;
    std::vector<std::string> troubles_;
    std::optional<FactEffects> effects_;
    Corrections corrected_;
    EffectClock clock_;                ///< asked for all entries that were applied
    std::int64_t latest_ = 0;          ///< the latest time at which one of them had its effect
    std::vector<FaceNode*> overlaid_;  ///< faces that age or suspicion made others than their own looks say
    ContactTracing tracing_;
};

}  // namespace clendo
