#pragma once
#include <span>
#include <string>
#include <vector>

#include "record/state/state.h"
#include "reel/temporary_joint.h"

namespace clendo {

/// What is known of a reel now, judged by what counts.
struct ReelStanding {
    const ReelState* filed = nullptr;
    reel::ReelReport report;
    std::string trouble;                                        ///< why it cannot be judged at all: marks that cannot be; empty: it can
    std::vector<int> wanted;                                    ///< fibres that the job asks for: by its policy, or as they were drawn
    std::vector<int> open;                                      ///< of these, not tested at every wavelength that was ordered
    std::optional<reel::JointReading> last;                     ///< what the last shot speaks of
    bool decisionOvertaken = false;                             ///< something was shot since it was decided
    bool asksForSample = false;                                 ///< the job wants one
    reel::ReelVerdict proposed = reel::ReelVerdict::NotJudged;  ///< of what was tested; nothing as long as fibres are open and none rejects it
    reel::ReelVerdict verdict = reel::ReelVerdict::NotJudged;   ///< as it was decided, else as it is proposed
    [[nodiscard]] bool decided() const { return filed && filed->decided && !decisionOvertaken; }
};
/// An empty one where there is no reel of that name.
ReelStanding standingOf(const JobState& state, const std::string& reel);

/// The shots that count: the last one of each fibre and wavelength, fibre by fibre.
std::vector<const Filed<ReelTraced>*> countingShots(const ReelState& reel);

/// Reels that may be cut, with their measured lengths: those that nobody rejected and of which a length is known; uncertain lengths count for as much
/// as they hold at least.
std::vector<reel::Stock> stockOf(const JobState& state);
/// Of these, the ones that nobody accepted yet.
std::vector<std::string> notAccepted(const JobState& state, const std::vector<reel::Stock>& stock);
/// What the last cutting plan says that no longer holds: reels that were rejected, are gone or are shorter. Empty: it holds.
std::vector<std::string> cutTroubles(const JobState& state, const CutsPlanned& plan);

/// Who had a cord last, and when it was last proven; for one that turns out to be broken.
struct CordHistory {
    std::string who, what;      ///< empty: nobody is on record
    std::int64_t at = 0;        ///< seconds since 1970-01-01 UTC
    std::int64_t provenAt = 0;  ///< 0: never in this job
    [[nodiscard]] std::string sentence(const std::string& cord) const;
};
CordHistory historyOf(const JobState& state, std::span<const Entry> journal, const std::string& cord);

/// How often a part of a joint was used so far.
int usesOf(const JobState& state, const std::string& part);

/// The trace into the reel from which a link's cable was laid, of the fibre of the same number, as if it had been a shot of the link: the baseline of
/// `shot`. Nothing: there is none at this wavelength, or the reel was shot into its other end.
std::optional<TraceShot> asOnTheReel(const JobState& state, const Link& link, const TraceShot& shot);

}  // namespace clendo
