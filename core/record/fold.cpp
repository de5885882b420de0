#include "record/fold.h"

#include <algorithm>

#include "record/corrections.h"

namespace clendo {
namespace {

/// Settings, plan and criteria of the job as the journal has them last.
void takePlan(JobState& state, const Entry& entry)
{
    if (const auto* job = std::get_if<JobSet>(&entry.fact)) state.job = *job;
    if (const auto* planned = std::get_if<CablePlanned>(&entry.fact)) {
        const auto same = std::find_if(state.cables.begin(), state.cables.end(), [&](const CablePlan& c) { return c.id == planned->cable.id; });
        if (same == state.cables.end())
            state.cables.push_back(planned->cable);
        else
            *same = planned->cable;
    }
    if (const auto* kept = std::get_if<ProfileKept>(&entry.fact)) state.ownProfiles[kept->edition] = kept->text;
}

/// What makes earlier entries mean something else.
bool changesTheRest(const Entry& entry)
{
    return std::holds_alternative<JobSet>(entry.fact) || std::holds_alternative<CablePlanned>(entry.fact) ||
           std::holds_alternative<ProfileKept>(entry.fact) || std::holds_alternative<Corrected>(entry.fact);
}

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

void loadRules(JobState& state, const Rules& rules)
{
    const auto own = state.ownProfiles.find(state.job.edition);
    take(own == state.ownProfiles.end() ? rules.profile(state.job.edition) : parseProfile(own->second), state.profile, state.troubles);
    take(rules.connectors(), state.connectors, state.troubles);
    take(rules.kitKinds(), state.kitKinds, state.troubles);
    for (const auto& cable : state.cables) {
        if (state.limits.contains(cable.fibre)) continue;
        if (auto limits = rules.limits(limitsNameFor(state.job.limits, cable), cable.fibre))
            state.limits.emplace(cable.fibre, std::move(*limits));
        else
            state.troubles.push_back(limits.error().message);
    }
}

void makeLinks(JobState& state)
{
    for (auto& cable : state.cables)
        for (auto& link : linksOf(cable)) {
            state.linkIndex.emplace(link.id, state.links.size());
            state.links.push_back(std::move(link));
        }
}

/// How long an open face stays fit; nothing where faces do not age or no clock is asked.
std::optional<std::int64_t> secondsOpen(const JobState& state, std::int64_t now)
{
    const auto minutes = state.policy("open");
    return now == 0 || minutes == "never" ? std::nullopt : std::optional(60 * std::stoll(std::string(minutes)));
}

/// A fit face ages while it is open; capped, parked and mated ones do not.
bool openTooLong(const FaceState& face, std::int64_t seconds, std::int64_t now)
{
    return face.condition == FaceCondition::Fit && !face.mated && face.covered.empty() && now - face.lastJudged()->at > seconds;
}

}  // namespace

void GrowingFold::update(std::span<const Entry> journal, std::int64_t now)
{
    const auto fresh = journal.subspan(std::min(applied_, journal.size()));
    if (!effects_ || journal.size() < applied_ || std::any_of(fresh.begin(), fresh.end(), changesTheRest))
        begin(journal);
    else
        apply(fresh);
    applied_ = journal.size();
    for (FaceNode* node : touched()) {
        FaceState& face = node->second;
        face.condition = conditionOf(face);
        face.openTooLong = false;
        face.suspicion.reset();
    }
    settle(now);
}

void GrowingFold::begin(std::span<const Entry> journal)
{
    corrected_ = correctedEntries(journal);
    tracing_ = {};
    overlaid_.clear();
    JobState planned;
    for (const auto& entry : journal)
        if (!corrected_.contains(entry.id)) takePlan(planned, entry);
    loadRules(planned, rules_);
    for (auto& sentence : unknownPolicies(planned.job.policies)) planned.troubles.push_back(std::move(sentence));
    makeLinks(planned);
    effects_.emplace(std::move(planned));
    apply(journal);
    auto& troubles = effects_->state().troubles;
    troubles.insert(troubles.end(), troubles_.begin(), troubles_.end());
}

void GrowingFold::apply(std::span<const Entry> fresh)
{
    for (const auto& entry : fresh)
        if (corrected_.contains(entry.id))
            effects_->state().lastEntryAt = std::max(effects_->state().lastEntryAt, entry.at);
        else
            effects_->apply(entry);
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
    overlaid_.clear();
    if (const auto seconds = secondsOpen(state, now))
        for (auto& node : state.faces) {
            if (!openTooLong(node.second, *seconds, now)) continue;
            node.second.condition = FaceCondition::Stale;
            node.second.openTooLong = true;
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

JobState fold(std::span<const Entry> entries, const Rules& rules, std::int64_t now)
{
    GrowingFold growing(rules);
    growing.update(entries, now);
    return std::move(growing).takeState();
}

bool agedSince(const JobState& state, std::int64_t now)
{
    const auto seconds = secondsOpen(state, now);
    return seconds && std::any_of(state.faces.begin(), state.faces.end(), [&](const auto& node) { return openTooLong(node.second, *seconds, now); });
}

}  // namespace clendo
