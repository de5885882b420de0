#include "record/state/growing_fold.h"

#include <algorithm>

#include "files/files.h"
#include "record/journal/acts.h"
#include "record/journal/order.h"
#include "record/output/signatures.h"
#include "record/state/rules.h"
#include "record/state/waiting.h"

namespace clendo {
namespace {

/// A job names its limits once: "generic-sm" becomes "generic-mm" for its multimode cables.
std::string limitsNameFor(std::string limits, const CablePlan& cable)
{
    const std::string_view wanted = isMultimode(cable) ? "-mm" : "-sm", other = isMultimode(cable) ? "-sm" : "-mm";
    if (limits.ends_with(other)) limits.replace(limits.size() - other.size(), other.size(), wanted);
    return limits;
}

template <class Value>
void take(Result<Value> from, Value& into, std::vector<std::string>& troubles)
{
    if (from)
        into = std::move(*from);
    else
        troubles.push_back(from.error().message);
}

/// The rules that the job uses, and all texts that were read for them.
void loadRules(JobState& state, const Rules& installed)
{
    const Rules rules = installed.keeping(state.keptRules);
    const auto own = state.ownProfiles.find(state.job.edition);
    take(own == state.ownProfiles.end() ? rules.profile(state.job.edition) : loadDetection(rules.files()).and_then([&](DetectionTable shown) {
        return parseProfile(own->second, std::move(shown));
    }),
         state.profile, state.troubles);
    take(rules.connectors(), state.connectors, state.troubles);
    take(rules.kitKinds(), state.kitKinds, state.troubles);
    for (const auto& cable : state.cables) {
        if (state.limits.contains(cable.fibre)) continue;
        if (auto limits = rules.limits(limitsNameFor(state.job.limits, cable), cable.fibre))
            state.limits.emplace(cable.fibre, std::move(*limits));
        else
            state.troubles.push_back(limits.error().message);
    }
    if (!state.cables.empty())  // what is asked of them depends on the face; a missing file is told there
        (void)rules.files().shipped("fibres/fibres.json");
    state.usedRules = rules.files().used();
}

void makeLinks(JobState& state)
{
    for (auto& cable : state.cables)
        for (auto& link : linksOf(cable)) {
            state.linkIndex.emplace(link.id, state.links.size());
            state.links.push_back(std::move(link));
        }
}

}  // namespace

void GrowingFold::update(std::span<const Entry> journal, std::int64_t now)
{
    if (!grows(journal)) begin(journal);
    auto links = effects_->takeTouchedLinks();
    for (FaceNode* node : touched()) {
        links.insert(node->first.link);
        FaceState& face = node->second;
        face.condition = conditionOf(face);
        face.waiting = Waiting::InTime;
        face.suspicion.reset();
    }
    settle(now);
    for (const FaceNode* node : overlaid_) links.insert(node->first.link);
    settleLinks(links);
}

/// Applies what is new; false, and nothing applied, where the journal is another one or its new entries change what earlier ones mean.
bool GrowingFold::grows(std::span<const Entry> journal)
{
    if (!effects_) return false;
    const std::size_t known = effects_->state().entries;
    if (journal.size() < known || (known > 0 && journal[known - 1].hash != effects_->state().lastEntry)) return false;
    const auto fresh = journal.subspan(known);
    if (std::any_of(fresh.begin(), fresh.end(), [](const Entry& e) { return changesEarlier(e.fact); })) return false;
    EffectClock clock = clock_;
    const auto times = effectTimes(journal, clock, known);
    if (std::any_of(times.begin(), times.end(), [&](auto t) { return t < latest_; })) return false;
    clock_ = clock;
    apply(fresh, times);
    return true;
}

void GrowingFold::begin(std::span<const Entry> journal)
{
    corrected_ = correctedEntries(journal);
    tracing_ = {};
    overlaid_.clear();
    latest_ = 0;
    clock_ = {};
    const auto times = effectTimes(journal, clock_);
    JobState planned;
    for (const std::size_t i : orderOfEffect(times))
        if (!corrected_.contains(journal[i].hash)) plan(journal[i].fact, planned);
    loadRules(planned, rules_);
    for (auto& sentence : unknownPolicies(planned.job.policies)) planned.troubles.push_back(std::move(sentence));
    makeLinks(planned);
    effects_.emplace(std::move(planned));
    apply(journal, times);
    overtakeUnbound(effects_->state(), journal, corrected_);
    auto& troubles = effects_->state().troubles;
    troubles.insert(troubles.end(), troubles_.begin(), troubles_.end());
}

void GrowingFold::apply(std::span<const Entry> fresh, std::span<const std::int64_t> times)
{
    for (const std::size_t i : orderOfEffect(times)) {
        const Entry& entry = fresh[i];
        latest_ = std::max(latest_, times[i]);
        if (corrected_.contains(entry.hash))
            effects_->state().lastEntryAt = std::max(effects_->state().lastEntryAt, entry.at());
        else
            effects_->apply(entry);
    }
    JobState& state = effects_->state();
    for (const Entry& e : fresh)
        if (auto& end = state.chainEnds[e.device]; e.sequence > end.sequence) end = {e.sequence, e.hash};
    state.entries += fresh.size();
    if (!fresh.empty()) state.lastEntry = fresh.back().hash;
}

/// The faces whose own looks and touches may say something else than before, each once.
std::vector<FaceNode*> GrowingFold::touched()
{
    auto faces = effects_->takeTouchedFaces();
    if (faces.size() > effects_->state().faces.size()) {  // all, or nearly: they stand in order already
        faces.clear();
        for (auto& node : effects_->state().faces) faces.push_back(&node);
        return faces;
    }
    faces.insert(faces.end(), overlaid_.begin(), overlaid_.end());
    std::sort(faces.begin(), faces.end());
    faces.erase(std::unique(faces.begin(), faces.end()), faces.end());
    return faces;
}

/// What follows from the state as a whole: age, suspicion, loss.
void GrowingFold::settle(std::int64_t now)
{
    JobState& state = effects_->state();
    const auto limits = waitingLimits(state);
    overlaid_.clear();
    if (now != 0)
        for (auto& node : state.faces) {
            const Waiting waiting = waitingOf(node.second, limits, now);
            if (waiting == Waiting::InTime) continue;
            node.second.condition = FaceCondition::Stale;
            node.second.waiting = waiting;
            overlaid_.push_back(&node);
        }
    for (auto& [id, why] : tracing_.suspectsIn(state.events)) {
        FaceNode& node = *state.faces.try_emplace(id).first;
        if (node.second.condition == FaceCondition::Fit) node.second.condition = FaceCondition::Stale;
        node.second.suspicion = std::move(why);
        overlaid_.push_back(&node);
    }
    for (const auto& id : effects_->takeReadLinks())
        if (const Link* link = state.link(id)) state.linkStates[id].loss = effects_->lossOf(*link);
}

/// What is there of links that may say something else than before, and whether what was signed of them is still what the journal says.
void GrowingFold::settleLinks(const std::set<std::string>& links)
{
    JobState& state = effects_->state();
    std::set<std::string> cables;
    for (const auto& id : links) {
        const Link* link = state.link(id);
        if (!link) continue;
        cables.insert(link->cable->id);
        const auto found = state.linkStates.find(id);
        if (found == state.linkStates.end()) continue;  // nothing but faces
        LinkState& of = found->second;
        of.done = lightDone(completeness(state, *link));
        if (of.signature && !of.signature->what.record.empty()) of.signature->stands = sha256(signedRecord(state, id)) == of.signature->what.record;
    }
    for (auto& [cable, signature] : state.signedCables)
        if (cables.contains(cable) && !signature.what.record.empty()) signature.stands = sha256(signedRecord(state, cable)) == signature.what.record;
}

}  // namespace clendo
