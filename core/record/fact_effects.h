#pragma once
#include <map>
#include <set>
#include <string>
#include <unordered_map>
#include <utility>
#include <vector>

#include "record/state.h"

namespace clendo {

using FaceNode = decltype(JobState::faces)::value_type;  ///< stays where it is while faces are added

/// What each kind of fact does to the state of a job, entry by entry. Readings keep the reference that was good when they were read. Remembers which
/// faces and links were touched; conditions, suspicion and loss follow from the state and are not set here.
class FactEffects {
public:
    /// The state must know the plan, the settings and the rules already: what a fact means depends on them.
    explicit FactEffects(JobState planned) : state_(std::move(planned)) {}

    void apply(const Entry& entry);

    [[nodiscard]] JobState& state() { return state_; }
    [[nodiscard]] const JobState& state() const { return state_; }
    /// Faces and links that entries touched since this was asked last; a face may come several times.
    std::vector<FaceNode*> takeTouchedFaces() { return std::exchange(touchedFaces_, {}); }
    std::set<std::string> takeReadLinks() { return std::exchange(readLinks_, {}); }
    /// The loss of a link from what was read so far; nothing where nothing was.
    [[nodiscard]] std::optional<LossReport> lossOf(const Link& link) const;

private:
    FaceState& touch(const FaceId& face)
    {
        FaceNode*& node = nodes_[face];
        if (!node) node = &*state_.faces.try_emplace(face).first;
        touchedFaces_.push_back(node);
        return node->second;
    }
    void open(const FaceId& face);

    void on(const Entry& entry, const FaceSeen& seen);
    void on(const Entry& entry, const FindingOverruled& said);
    void on(const Entry& entry, const FaceCleaned& cleaned);
    void on(const Entry& entry, const Mated& mated);
    void on(const Entry& entry, const SleeveCleaned& cleaned);
    void on(const Entry& entry, const FaceHandled& what);
    void on(const Entry& entry, const FaceCovered& where);
    void on(const Entry& entry, const KitKept& item);
    void on(const Entry& entry, const KitProved& proof);
    void on(const Entry& entry, const KitChecked& checked);
    void on(const Entry& entry, const Joined& joined);
    void on(const Entry& entry, const ReferenceSet& reference);
    void on(const Entry& entry, const ReferenceVoided& voided);
    void on(const Entry& entry, const PowerRead& read);
    void on(const Entry& entry, const TraceShot& shot);
    void on(const Entry& entry, const ScopeCalibrated& found);
    void on(const Entry& entry, const Signed& sign);
    template <class Other>
    void on(const Entry&, const Other&)
    {
    }

    JobState state_;
    std::map<std::string, std::vector<Reading>> readings_;
    std::map<Direction, ReferenceMethod> referenceMethod_;
    std::map<std::string, ReferenceMethod> linkMethod_;
    std::unordered_map<FaceId, FaceNode*, FaceIdHash> nodes_;
    std::vector<FaceNode*> touchedFaces_;
    std::set<std::string> readLinks_;
};

/// The condition of a face from its own looks and touches; neither its age nor what it touched is asked.
FaceCondition conditionOf(const FaceState& face);

}  // namespace clendo
