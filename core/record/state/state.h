#pragma once
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <span>
#include <string>
#include <vector>

#include "cleaning/contacts.h"
#include "criteria/judge.h"
#include "record/facts/facts.h"
#include "record/state/cable_run.h"
#include "record/state/job_plan.h"
#include "sharing/shared_map.h"
#include "sharing/shared_vector.h"

namespace clendo {

/// Where a face stands. Stale: it was fit or judged, and then touched.
enum class FaceCondition { NotSeen, Fit, Work, Damaged, Stale };
std::string_view name(FaceCondition condition);  ///< for people: "not seen", "fit", "needs work", "damaged", "look again"

/// One look at a face and the cleanings that led to it.
struct Look {
    Digest entry;
    std::int64_t at = 0;               ///< when the picture was taken, seconds since 1970-01-01 UTC
    std::optional<std::size_t> event;  ///< its place in JobState::events; nothing: the picture was no evidence
    FaceSeen seen;
    std::optional<Verdict> verdict;           ///< nothing: the picture was no evidence
    std::vector<std::string> reasons;         ///< why it was none
    std::vector<FaceCleaned> cleanedBefore;   ///< since the look before
    std::vector<FindingOverruled> overruled;  ///< seen.measured holds what was left of them; the journal what was measured
};

/// Whether a fit face that is not mated yet waits no longer than the policy allows.
enum class Waiting {
    InTime,
    OpenTooLong,
    CoveredTooLong,
    NotKnown  ///< it was seen at a time that is still to come: a clock was set back, and nobody knows how long it waits
};

struct FaceState {
    FaceCondition condition = FaceCondition::NotSeen;
    std::vector<Look> looks;
    std::vector<FaceCleaned> cleanedSince;  ///< after the last look
    int cleanings = 0;
    bool mated = false;
    bool cappedWhenMated = false;        ///< its factory cap was on until then
    std::string unfitWhenMated;          ///< of a mated one: why it was not fit when it was mated, as whyNotFit() says it; empty: it was
    std::string handled;                 ///< what happened to it after its last look; empty: nothing
    Waiting waiting = Waiting::InTime;   ///< of a fit one that waits for its partner
    std::string covered;                 ///< "capped", "parked"; empty: open
    std::int64_t coveredAt = 0;          ///< since when, seconds since 1970-01-01 UTC
    std::optional<Suspicion> suspicion;  ///< what it touched was found bad, and it was not seen since

    /// The last look that was evidence.
    [[nodiscard]] const Look* lastJudged() const;
    /// The one before it that was evidence.
    [[nodiscard]] const Look* judgedBefore() const;
};

/// A fact as it stands in the journal.
template <class What>
struct Filed {
    What what;
    Digest entry;
    std::int64_t at = 0;  ///< seconds since 1970-01-01 UTC
};

/// A signature that was not taken back, and whether what it was given for is still what the journal says.
struct SignatureState {
    Signed what;
    Digest entry;
    std::int64_t at = 0;
    std::string who;
    bool stands = true;
};

/// What the job wants of a link with light, and is there (completeness.h). Kept with the fold: the round asks for all links at every key.
struct LightDone {
    bool loss = false, rightFibre = false, length = false, traces = false;
};

/// Why a reading does not rest on the reference that it names, and the loss that it would show if it did.
struct Doubt {
    std::string why;  ///< "the reference was 95 minutes old"
    std::optional<Decibel> loss;
};

struct LinkState {
    std::map<Connection, Filed<Mated>> mated;  ///< the pairs that are mated now
    std::map<Connection, Digest> sleeves;      ///< whose sleeve was cleaned since the pair was last open, and the entry that says it
    std::vector<Filed<PowerRead>> readings;
    std::vector<Filed<TraceShot>> traces;
    /// By the entry of a shot: faces that its cords met and their own, and why each was not fit then; an empty word: it was.
    std::map<Digest, std::map<FaceId, std::string>> facesOfShots;
    std::optional<Filed<LightSeen>> lightSeen;      ///< where light into this fibre came out, as it was seen last
    std::optional<Filed<LengthMeasured>> measured;  ///< its length by something else than a trace
    std::optional<SignatureState> signature;
    std::optional<LossReport> loss;
    std::map<Digest, Doubt> doubted;  ///< readings that name a reference on which they cannot rest
    LightDone done;
    std::set<std::string> measuredWith;  ///< source, meter and cords of the references on which the readings rest
};

/// The scale of a scope with a tip, and when it was found.
struct Calibration {
    Scale scale;
    std::int64_t at = 0;
};

/// Something of the kit, how far it is used, and what was proven of it.
struct KitItem {
    struct Proof {
        std::int64_t at = 0;
        bool good = true;
    };
    KitKept what;
    int used = 0;  ///< strokes or matings
    std::map<std::string, Proof, std::less<>> proofs;
};

/// The kit as somebody looked through it.
struct LookedThrough {
    std::int64_t at = 0;
    std::string who;
    KitChecked what;
};

/// A reference that is good now.
struct ReferenceInForce {
    DecibelMilliwatt level;
    ReferenceMethod method = ReferenceMethod::OneCord;
    Digest entry;
    std::int64_t at = 0;
    std::vector<std::string> with{};               ///< source, meter and cords that were named with it
    bool zeroed = false;                           ///< the meter was set to zero on it: the level is not known
    std::optional<Decibel> proof{};                ///< what the receive cord and an adapter added to it
    std::int64_t checkedAt = 0;                    ///< when it was last found good again; 0: never
    std::optional<FaceId> freeEnd{}, sourceEnd{};  ///< of the source's cord; nothing: not said
};

/// What was found of a reference: what a cord added to it, or by how much it had drifted.
struct ReferenceFinding {
    Direction direction = Direction::AtoB;
    Nanometre wavelength;
    std::string cord;  ///< of a proof; empty: not said
    Decibel loss;      ///< of a proof; of a check the drift, above zero where there is more light than before
    std::int64_t at = 0;
    Digest entry;
};

/// A patch cord as it was read once.
struct CordLoss {
    std::string end;  ///< at the reference cord: "A", "B"; empty: both connectors at once
    Nanometre wavelength;
    std::optional<Decibel> loss;  ///< nothing: it rests on no good reference
    ReferenceMethod method = ReferenceMethod::SingleEnded;
    Digest on{};          ///< the reference that it names
    int epoch = 0;        ///< how often that had been checked by then
    std::string doubt{};  ///< why it does not rest on it
    std::int64_t at = 0;
    Digest entry{};
};

/// A reel of cable, and all that was filed of it, in the order of the journal.
struct ReelState {
    std::optional<Filed<ReelDelivered>> delivered;  ///< nothing: it is only named
    std::optional<Filed<ReelSampled>> sampled;
    int draws = 0;  ///< how often a sample was drawn: the last one counts
    std::vector<Filed<ReelJointMade>> joints;
    std::vector<Filed<ReelTraced>> shots;
    std::vector<Filed<ReelPictured>> pictures;
    std::optional<Filed<ReelDecided>> decided;
    std::string decidedBy;
    std::size_t shotsWhenDecided = 0;  ///< when it was decided
};

/// What was lost of the job, and when that was noted.
struct Losses {
    std::int64_t at = 0;
    LossesNoted what;
};

/// A copy of what is pointed to.
template <class T>
std::optional<T> optionalOf(const T* what)
{
    return what ? std::optional(*what) : std::nullopt;
}

/// What entries and rules say now. A pure function of both; nothing in it is ever edited. Copies share what did not change since (shared_map.h).
struct JobState {
    std::shared_ptr<const JobPlan> plan = std::make_shared<const JobPlan>();
    SharedMap<FaceId, FaceState> faces;
    SharedMap<std::string, LinkState> linkStates;
    std::map<std::pair<Direction, double>, ReferenceInForce> references;   ///< by direction and wavelength
    std::map<std::pair<Direction, double>, std::string> voidedWhy;         ///< why there is none in force where there was one
    std::vector<ReferenceFinding> proofs, checks;                          ///< in the order of the journal
    std::map<std::string, std::vector<CordLoss>, std::less<>> patchCords;  ///< by label, in the order of the journal
    std::map<std::string, std::shared_ptr<CableRun>> cableRuns;            ///< of cables of which something was read
    std::map<std::string, std::int64_t, std::less<>> sourcesOn;            ///< when they were switched on, by name; not in it: not known
    std::map<std::string, bool, std::less<>> meterSigns;                   ///< whether a meter set to zero shows a loss below zero, by name
    std::map<std::string, SignatureState> signedCables;                    ///< by cable
    std::map<std::string, KitItem, std::less<>> kit;                       ///< by name
    SharedMap<std::string, ReelState> reels;                               ///< by name
    std::shared_ptr<const Filed<CutsPlanned>> cuts;                        ///< the last plan; null: none
    std::map<std::string, CableLaid, std::less<>> laid;                    ///< from which reel, by cable
    std::optional<LookedThrough> kitChecked;                               ///< the last time it was looked through
    SharedVector<FaceEvent> events;                                        ///< looks and contacts, for tracing
    SharedVector<std::uint8_t> stationsDone;                               ///< of each of plan->stations.all whether it is done: 1
    std::vector<Losses> losses;                                            ///< of damaged files from which the job was saved
    std::map<std::string, Calibration> calibrations;                       ///< by scope and tip
    std::vector<std::string> troubles;                                     ///< entries or rules that could not be used, in sentences
    std::int64_t lastEntryAt = 0;
    std::size_t entries = 0;  ///< of the journal
    Digest lastEntry;         ///< the last of them, in the order of the journal
    ChainHeads chainEnds;     ///< the last of each device

    [[nodiscard]] const Link* link(std::string_view id) const { return plan->link(id); }
    [[nodiscard]] const FaceState& face(const FaceId& id) const;
    [[nodiscard]] const LinkState& state(std::string_view link) const;
    /// By which a face is judged, those of test cords included; part of the plan's criteria, null where it has none for the face.
    [[nodiscard]] const FaceClass* faceClass(const FaceId& face) const;
    /// Where a face is, for people; of a test cord: "test cord RC-1, end A"; of an instrument: "port of PM-01".
    [[nodiscard]] std::string where(const FaceId& face) const;
    /// Where a pair is: "TH-R2 port 7".
    [[nodiscard]] std::string whereMated(const std::string& link, Connection at) const;
    [[nodiscard]] std::string_view policy(std::string_view key) const { return plan->policy(key); }
    /// The reference in force by the job's method; one that was set by another method is none.
    [[nodiscard]] const ReferenceInForce* reference(Direction direction, Nanometre wavelength) const;
};

}  // namespace clendo
