#pragma once
#include <functional>
#include <map>
#include <set>
#include <string>
#include <unordered_map>
#include <utility>
#include <vector>

#include "cleaning/contact_tracing.h"
#include "record/state/state.h"

namespace clendo {

/// A reading as the fold keeps it: with what it rests on.
struct KeptReading : Reading {
    Digest on{};                     ///< the reference that it names
    int entryEpoch = 0;              ///< how often that had been checked by then
    std::optional<Second> warmUp{};  ///< of the source when the reference was set; nothing: not known
    bool launchSaid = false;         ///< what conditioned the launch was said with it
    Digest entry{};                  ///< of the reading
};

/// What readings need to know of references while a journal is applied.
struct LightEffects {
    struct Reference {
        ReferenceSet set;
        bool good = true;                ///< not voided
        std::int64_t at = 0;             ///< when it was set, or last found good
        int epoch = 0;                   ///< how often it was found good
        std::set<std::string> fibres{};  ///< read on it since
        std::optional<Second> warmUp{};
    };
    std::unordered_map<Digest, Reference, DigestHash> references;  ///< by entry
    std::map<std::string, std::vector<KeptReading>> readings;      ///< by link, with the reference that was good when they were read
    std::map<std::string, ReferenceMethod> methods;                ///< by which the readings of a link were taken
    std::set<std::string> readLinks;                               ///< whose loss has to be computed anew
    std::map<FaceId, FaceId> onLine;                               ///< the face at which the free end of a test cord is, as far as readings say
};

/// The state of a job while its journal is applied, entry by entry. Facts change it through this (core/record/facts); it remembers which faces and
/// links they touched. Conditions, suspicion and loss follow from the state and are not set here.
class FactEffects {
public:
    /// The state must know the plan, the settings and the rules already: what a fact means depends on them.
    explicit FactEffects(std::shared_ptr<const JobPlan> plan);

    void apply(const Entry& entry);

    [[nodiscard]] JobState& state() { return state_; }
    [[nodiscard]] const JobState& state() const { return state_; }
    [[nodiscard]] LightEffects& light() { return light_; }
    /// A copy of the state as it is now, to be read in any thread.
    [[nodiscard]] std::shared_ptr<const JobState> share();
    /// The state of a face, to be changed. It stays where it is until the state is shared.
    FaceState& touch(const FaceId& face);
    /// The state of a link, to be changed.
    LinkState& link(const std::string& id);
    void sign(SignatureState signature);
    /// Why a face was not fit at this time by its own looks, touches and age; empty where it was.
    [[nodiscard]] std::string whyNotFitThen(FaceState& face, std::int64_t at) const;
    /// References are no longer good: those of which `which` says so, or one. What was read on them before stays as it is.
    void voidReferences(const std::function<bool(const ReferenceSet&)>& which, const std::string& why);
    void voidReference(Digest reference, const std::string& why);
    /// A mated pair is parted.
    void open(const FaceId& face);
    /// Something that matters for dirt that goes from face to face; gives its place in JobState::events.
    std::size_t event(FaceEvent::Kind kind, const FaceId& a, const FaceId& b, const EntryHead& entry);
    /// A look among them says something else of dirt, by the word of a person.
    void lookSays(std::size_t event, bool fit);
    [[nodiscard]] ContactTracing& tracing() { return tracing_; }

    /// Faces and links that entries touched since this was asked last, each once.
    std::vector<FaceId> takeTouchedFaces();
    std::set<std::string> takeReadLinks() { return std::exchange(light_.readLinks, {}); }
    /// Links of which something but their faces was touched.
    std::set<std::string> takeTouchedLinks() { return std::exchange(touchedLinks_, {}); }
    /// The loss of a link from what was read so far; nothing where nothing was.
    [[nodiscard]] std::optional<LossReport> lossOf(const Link& link) const;

private:
    void overtakeUnbound(const std::string& link);

    JobState state_;
    LightEffects light_;
    ContactTracing tracing_;
    struct Known {
        FaceState* state = nullptr;
        bool touched = false;
    };
    std::unordered_map<FaceId, Known, FaceIdHash> known_;  ///< where faces are in a state that was not shared since
    std::vector<FaceId> touchedFaces_;
    std::set<std::string> touchedLinks_;
    bool unboundSignatures_ = false;  ///< some signature is not bound to what it was given for: whatever comes later overtakes it
};

/// The condition of a face from its own looks and touches; neither its age nor what it touched is asked.
FaceCondition conditionOf(const FaceState& face);

}  // namespace clendo
