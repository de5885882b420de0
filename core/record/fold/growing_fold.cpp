#include "record/fold/growing_fold.h"

#include <algorithm>

#include "files/files.h"
#include "record/fold/signatures.h"
#include "record/journal/acts.h"
#include "record/journal/order.h"
#include "record/state/rules.h"
#include "record/state/waiting.h"

namespace clendo {
Changes GrowingFold::update(std::span<const Entry> journal, std::int64_t now)
{
    Changes changes;
    const std::size_t known = effects_ ? state().entries : 0;
    if (!grows(journal)) {
        begin(journal);
        changes.all = true;
    }
    changes.entries = changes.all || state().entries != known;
    settle(changes, now);
    return changes;
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
    ageing_ = {};
    latest_ = 0;
    clock_ = {};
    const auto times = effectTimes(journal, clock_);
    const auto planned = std::make_shared<JobPlan>();
    for (const std::size_t i : orderOfEffect(times))
        if (!corrected_.contains(journal[i].hash)) plan(journal[i].fact, *planned);
    planned->loadRules(rules_);
    for (auto& sentence : unknownPolicies(planned->job.policies)) planned->troubles.push_back(std::move(sentence));
    planned->makeLinks();
    limits_ = waitingLimits(*planned);
    effects_.emplace(planned);
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

/// What follows from the state as a whole: age, suspicion, loss.
void GrowingFold::settle(Changes& changes, std::int64_t now)
{
    changes.links = effects_->takeTouchedLinks();
    for (auto& face : effects_->takeTouchedFaces()) changes.faces.insert(std::move(face));
    changes.faces.merge(effects_->tracing().changed());
    for (auto& face : ageing_.until(now)) changes.faces.insert(std::move(face));
    for (const auto& face : changes.faces) {
        settleFace(face, now);
        changes.links.insert(face.link);
    }
    for (const auto& id : effects_->takeReadLinks())
        if (const Link* link = state().link(id)) {
            effects_->state().linkStates.change(id).loss = effects_->lossOf(*link);
            effects_->state().cableRuns.insert_or_assign(link->cable->id, std::make_shared<CableRun>());
        }
    settleLinks(changes.links);
    settleStations(changes);
}

/// What a face is by its own looks and touches, by its age and by what it touched.
void GrowingFold::settleFace(const FaceId& id, std::int64_t now)
{
    FaceState& face = effects_->state().faces.change(id);
    face.condition = conditionOf(face);
    face.waiting = now == 0 ? Waiting::InTime : waitingOf(face, limits_, now);
    if (now != 0 && ages(face))
        ageing_.expect(id, waitingChangesAfter(face, limits_, now));
    else
        ageing_.forget(id);
    face.suspicion = optionalOf(effects_->tracing().suspicion(id));
    const bool doubted = face.waiting != Waiting::InTime || (face.suspicion && face.condition == FaceCondition::Fit);
    if (doubted) face.condition = FaceCondition::Stale;
}

/// What is done of all that there is to do.
void GrowingFold::settleStations(const Changes& changes)
{
    JobState& state = effects_->state();
    const Stations& stations = state.plan->stations;
    const auto settle = [&](std::uint32_t n) {
        const auto done = static_cast<std::uint8_t>(isDone(state, stations.all[n]));
        if (state.stationsDone[n] != done) state.stationsDone.change(n) = done;
    };
    if (changes.all) {
        for (const auto& station : stations.all) state.stationsDone.push_back(static_cast<std::uint8_t>(isDone(state, station)));
        return;
    }
    for (const auto& id : changes.links)
        if (const auto link = state.plan->linkIndex.find(id); link != state.plan->linkIndex.end())
            for (const auto n : stations.ofLink[link->second]) settle(n);
    for (const auto n : stations.references) settle(n);
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
        if (!state.linkStates.contains(id)) continue;  // nothing but faces
        LinkState& of = state.linkStates.change(id);
        of.done = lightDone(completeness(state, *link));
        if (of.signature && !of.signature->what.record.empty()) of.signature->stands = sha256(signedRecord(state, id)) == of.signature->what.record;
    }
    for (auto& [cable, signature] : state.signedCables)
        if (cables.contains(cable) && !signature.what.record.empty()) signature.stands = sha256(signedRecord(state, cable)) == signature.what.record;
}

}  // namespace clendo
