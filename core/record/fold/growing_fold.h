#pragma once
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "record/journal/acts.h"
#include "record/journal/order.h"
#include "record/state/changes.h"
#include "record/state/face_ages.h"
#include "record/state/fact_effects.h"
#include "record/state/rules.h"
#include "record/state/waiting.h"

namespace clendo {

/// What a journal says while it grows: entries are applied as they come, in the order of their effect (journal/order.h). What changes the meaning of
/// earlier ones (settings, plan, criteria, a correction), and what happened before entries that were applied already, makes it begin anew. However it
/// was fed, its state is that of fold() over the whole journal.
class GrowingFold {
public:
    /// `troubles`: sentences that are none of the journal's own, about lines that could not be read.
    explicit GrowingFold(Rules rules, std::vector<std::string> troubles = {}) : rules_(std::move(rules)), troubles_(std::move(troubles)) {}

    /// `journal`: in its order; mostly what it had at the last update, and perhaps more. `now` as in fold().
    /// Gives what is different now; work and time follow from that, not from the length of the journal.
    Changes update(std::span<const Entry> journal, std::int64_t now);

    /// To be asked after an update only.
    [[nodiscard]] const JobState& state() const { return effects_->state(); }
    [[nodiscard]] JobState takeState() && { return std::move(effects_->state()); }
    /// The state as it is now, to be read in any thread while this goes on.
    [[nodiscard]] std::shared_ptr<const JobState> share() { return effects_->share(); }
    /// The next moment at which the clock alone makes some face another one, seconds since 1970-01-01 UTC; nothing: never.
    [[nodiscard]] std::optional<std::int64_t> nextAgeing() const { return ageing_.next(); }

private:
    bool grows(std::span<const Entry> journal);
    void begin(std::span<const Entry> journal);
    void apply(std::span<const Entry> fresh, std::span<const std::int64_t> times);
    void settle(Changes& changes, std::int64_t now);
    void settleFace(const FaceId& id, std::int64_t now);
    void settleLinks(const std::set<std::string>& links);
    void settleStations(const Changes& changes);

    Rules rules_;
    std::vector<std::string> troubles_;
    std::optional<FactEffects> effects_;
    Corrections corrected_;
    EffectClock clock_;        ///< asked for all entries that were applied
    std::int64_t latest_ = 0;  ///< the latest time at which one of them had its effect
    WaitingLimits limits_;
    FaceAges ageing_;
};

}  // namespace clendo
