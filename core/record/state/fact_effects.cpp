#include "record/state/fact_effects.h"

#include <algorithm>

#include "face/judge/compare_looks.h"
#include "record/state/ferrule.h"
#include "record/state/fitness.h"
#include "record/state/loss_task.h"
#include "record/state/waiting.h"

namespace clendo {
namespace {

/// What breaks a rule and was at its place in every judged look of the last two different cleaning methods is damage.
bool damageRemains(const FaceState& face)
{
    const Look* last = face.lastJudged();
    if (!last || !last->verdict || last->verdict->fit) return false;
    std::set<std::string> methods;
    std::vector<const Look*> looks;
    for (auto it = face.looks.rbegin(); it != face.looks.rend() && methods.size() < 2; ++it) {
        if (!it->verdict) continue;
        looks.push_back(&*it);
        for (const auto& cleaned : it->cleanedBefore) methods.insert(cleaned.method);
        if (methods.size() >= 2) {
            for (auto before = std::next(it); before != face.looks.rend(); ++before)
                if (before->verdict) {
                    looks.push_back(&*before);
                    break;
                }
        }
    }
    if (methods.size() < 2 || looks.size() < 3) return false;
    for (const auto& outcome : last->verdict->outcomes) {
        if (outcome.met) continue;
        for (const int id : outcome.findings) {
            const bool stayed = std::all_of(looks.begin() + 1, looks.end(), [&](const Look* look) {
                return face::compareLooks(look->seen.measured.findings, last->seen.measured.findings).ofLater(id) == face::Fate::Stayed;
            });
            if (stayed) return true;
        }
    }
    return false;
}

}  // namespace

FaceCondition conditionOf(const FaceState& face)
{
    const Look* last = face.lastJudged();
    const bool touched = !face.cleanedSince.empty() || !face.handled.empty();
    if (!last) return touched ? FaceCondition::Stale : FaceCondition::NotSeen;
    if (touched) return FaceCondition::Stale;
    if (last->verdict->fit) return FaceCondition::Fit;
    return damageRemains(face) ? FaceCondition::Damaged : FaceCondition::Work;
}

FactEffects::FactEffects(std::shared_ptr<const JobPlan> plan)
{
    state_.troubles = plan->troubles;
    state_.plan = std::move(plan);
}

std::shared_ptr<const JobState> FactEffects::share()
{
    known_.clear();
    return std::make_shared<const JobState>(state_);
}

void FactEffects::apply(const Entry& entry)
{
    state_.lastEntryAt = std::max(state_.lastEntryAt, entry.at());
    clendo::apply(entry.fact, *this, entry);
}

FaceState& FactEffects::touch(const FaceId& face)
{
    Known& known = known_[face];
    if (!known.state) known.state = &state_.faces.change(face);
    if (!std::exchange(known.touched, true)) touchedFaces_.push_back(face);
    if (unboundSignatures_) overtakeUnbound(face.link);
    return *known.state;
}

std::vector<FaceId> FactEffects::takeTouchedFaces()
{
    for (const auto& face : touchedFaces_) known_[face].touched = false;
    return std::exchange(touchedFaces_, {});
}

LinkState& FactEffects::link(const std::string& id)
{
    touchedLinks_.insert(id);
    if (unboundSignatures_) overtakeUnbound(id);
    return state_.linkStates.change(id);
}

void FactEffects::overtakeUnbound(const std::string& link)
{
    if (const auto& signature = state_.state(link).signature; signature && signature->what.record.empty())
        state_.linkStates.change(link).signature->stands = false;
    if (const auto cable = state_.signedCables.find(link.substr(0, link.find('/')));
        cable != state_.signedCables.end() && cable->second.what.record.empty())
        cable->second.stands = false;
}

void FactEffects::sign(SignatureState signature)
{
    unboundSignatures_ = unboundSignatures_ || signature.what.record.empty();
    const std::string of = signature.what.of;
    if (state_.link(of))
        link(of).signature = std::move(signature);
    else
        state_.signedCables.insert_or_assign(of, std::move(signature));
}

std::string FactEffects::whyNotFitThen(FaceState& face, std::int64_t at) const
{
    face.condition = conditionOf(face);
    const Waiting now = std::exchange(face.waiting, waitingOf(face, waitingLimits(*state_.plan), at));
    const std::string why = clendo::whyNotFit(face, face.waiting == Waiting::InTime ? face.condition : FaceCondition::Stale);
    face.waiting = now;
    return why;
}

void FactEffects::voidReferences(const std::function<bool(const ReferenceSet&)>& which, const std::string& why)
{
    for (auto& [hash, reference] : light_.references) {
        if (!which(reference.set)) continue;
        reference.good = false;
        const std::pair key(reference.set.direction, reference.set.wavelength.value());
        const auto inForce = state_.references.find(key);
        if (inForce == state_.references.end() || inForce->second.entry != hash) continue;
        state_.voidedWhy.insert_or_assign(key, why);
        state_.references.erase(inForce);
    }
}

void FactEffects::voidReference(Digest reference, const std::string& why)
{
    const auto it = light_.references.find(reference);
    if (it == light_.references.end()) return;
    it->second.good = false;
    const std::pair key(it->second.set.direction, it->second.set.wavelength.value());
    if (const auto inForce = state_.references.find(key); inForce != state_.references.end() && inForce->second.entry == reference) {
        state_.voidedWhy.insert_or_assign(key, why);
        state_.references.erase(inForce);
    }
}

void FactEffects::open(const FaceId& face)
{
    for (const Side side : {Side::Cord, Side::Port})
        for (const auto& id : ferruleOf(state_, {face.link, face.connection, side})) {
            FaceState& parted = touch(id);
            parted.mated = false;
            parted.unfitWhenMated.clear();
            LinkState& of = link(id.link);
            of.mated.erase(id.connection);
            of.sleeves.erase(id.connection);
        }
}

std::size_t FactEffects::event(FaceEvent::Kind kind, const FaceId& a, const FaceId& b, const EntryHead& entry)
{
    state_.events.push_back({kind, a, b, static_cast<std::int64_t>(state_.events.size()) + 1, entry.at()});
    tracing_.add(state_.events[state_.events.size() - 1]);
    return state_.events.size() - 1;
}

void FactEffects::lookSays(std::size_t event, bool fit)
{
    const auto kind = fit ? FaceEvent::Kind::SeenFit : FaceEvent::Kind::SeenBad;
    state_.events.change(event).kind = kind;
    tracing_.change(event, kind);
}

std::optional<LossReport> FactEffects::lossOf(const Link& link) const
{
    const auto read = light_.readings.find(link.id);
    const auto method = light_.methods.find(link.id);
    const LimitSet* limits = state_.plan->limitsFor(*link.cable);
    if (read == light_.readings.end() || method == light_.methods.end() || !limits) return std::nullopt;
    LossTask task = lossTaskOf(link, method->second, {read->second.begin(), read->second.end()});
    task.warmUpWanted = Second(60 * state_.plan->policyDecimal("warm_up").value_or(10));
    bool launchSaid = true;
    for (const auto& kept : read->second) {
        if (!kept.reference && !kept.shown) continue;
        if (kept.warmUp) task.sourceWarmUp = std::min(task.sourceWarmUp.value_or(*kept.warmUp), *kept.warmUp);
        launchSaid = launchSaid && kept.launchSaid;
    }
    if (isMultimode(*link.cable)) task.launchConditioned = launchSaid;
    return computeLoss(task, *limits);
}

}  // namespace clendo
