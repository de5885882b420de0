// From the journal to what it says now.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "face/compare_looks.h"
#include "face/judge_look.h"
#include "record/corrections.h"
#include "record/ferrule.h"
#include "record/state.h"

namespace clendo {
namespace {

constexpr Micrometre samePlace{2.0};

/// What breaks a rule and was at its place in every judged look of the last two different cleaning methods is damage.
bool damageRemains(const FaceState& face)
{
    const Try* last = face.lastJudged();
    if (!last || !last->verdict || last->verdict->fit) return false;
    std::set<std::string> methods;
    std::vector<const Try*> looks;
    for (auto it = face.tries.rbegin(); it != face.tries.rend() && methods.size() < 2; ++it) {
        if (!it->verdict) continue;
        looks.push_back(&*it);
        for (const auto& cleaned : it->cleanedBefore) methods.insert(cleaned.method);
        if (methods.size() >= 2) {
            for (auto before = std::next(it); before != face.tries.rend(); ++before)
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
            const bool stayed = std::all_of(looks.begin() + 1, looks.end(), [&](const Try* look) {
                return face::compareLooks(look->seen.measured.findings, last->seen.measured.findings).ofLater(id) == face::Fate::Stayed;
            });
            if (stayed) return true;
        }
    }
    return false;
}

FaceCondition conditionOf(const FaceState& face)
{
    const Try* last = face.lastJudged();
    const bool touched = !face.cleanedSince.empty() || !face.handled.empty();
    if (!last) return touched ? FaceCondition::Stale : FaceCondition::NotSeen;
    if (touched) return FaceCondition::Stale;
    if (last->verdict->fit) return FaceCondition::Fit;
    return damageRemains(face) ? FaceCondition::Damaged : FaceCondition::Work;
}

/// A fit face ages while it is open; capped, parked and mated ones do not.
bool openTooLong(const JobState& state, const FaceState& face, std::int64_t now)
{
    const auto minutes = state.policy("open");
    if (now == 0 || minutes == "never" || face.condition != FaceCondition::Fit || face.mated || !face.covered.empty()) return false;
    return now - face.lastJudged()->at > 60 * std::stoll(std::string(minutes));
}

/// A job names its limits once: "generic-sm" becomes "generic-mm" for its multimode cables.
std::string limitsNameFor(std::string limits, const CablePlan& cable)
{
    const std::string_view wanted = isMultimode(cable) ? "-mm" : "-sm", other = isMultimode(cable) ? "-sm" : "-mm";
    if (limits.ends_with(other)) limits.replace(limits.size() - other.size(), other.size(), wanted);
    return limits;
}

/// Applies entries one by one. Readings keep the reference that was good when they were read.
class Folding {
public:
    Folding(const Rules& rules, std::int64_t now) : rules_(rules), now_(now) {}

    JobState run(std::span<const Entry> entries)
    {
        const auto corrected = correctedEntries(entries);
        // settings and plan first: what a fact means depends on them
        for (const auto& entry : entries)
            if (!corrected.contains(entry.id)) plan(entry);
        loadRules();
        for (auto& sentence : unknownPolicies(state_.job.policies)) state_.troubles.push_back(std::move(sentence));
        for (auto& cable : state_.cables)
            for (auto& link : linksOf(cable)) {
                state_.linkIndex.emplace(link.id, state_.links.size());
                state_.links.push_back(std::move(link));
            }
        for (const auto& entry : entries) {
            state_.lastEntryAt = std::max(state_.lastEntryAt, entry.at);
            if (!corrected.contains(entry.id)) std::visit([&](const auto& fact) { apply(entry, fact); }, entry.fact);
        }
        for (auto& [id, face] : state_.faces) {
            face.condition = conditionOf(face);
            if (!openTooLong(state_, face, now_)) continue;
            face.condition = FaceCondition::Stale;
            face.handled = "left open too long";
        }
        for (auto& [id, why] : suspectsIn(state_.events)) {
            FaceState& face = state_.faces[id];
            if (face.condition == FaceCondition::Fit) face.condition = FaceCondition::Stale;
            face.suspicion = std::move(why);
        }
        for (const auto& link : state_.links) computeLossOf(link);
        return std::move(state_);
    }

private:
    void plan(const Entry& entry)
    {
        if (const auto* job = std::get_if<JobSet>(&entry.fact)) state_.job = *job;
        if (const auto* planned = std::get_if<CablePlanned>(&entry.fact)) {
            const auto same = std::find_if(state_.cables.begin(), state_.cables.end(), [&](const CablePlan& c) { return c.id == planned->cable.id; });
            if (same == state_.cables.end())
                state_.cables.push_back(planned->cable);
            else
                *same = planned->cable;
        }
        if (const auto* kept = std::get_if<ProfileKept>(&entry.fact)) state_.ownProfiles[kept->edition] = kept->text;
    }

    void loadRules()
    {
        const auto own = state_.ownProfiles.find(state_.job.edition);
        if (auto profile = own == state_.ownProfiles.end() ? rules_.profile(state_.job.edition) : parseProfile(own->second))
            state_.profile = std::move(*profile);
        else
            state_.troubles.push_back(profile.error().message);
        if (auto connectors = rules_.connectors())
            state_.connectors = std::move(*connectors);
        else
            state_.troubles.push_back(connectors.error().message);
        if (auto kinds = rules_.kitKinds())
            state_.kitKinds = std::move(*kinds);
        else
            state_.troubles.push_back(kinds.error().message);
        for (const auto& cable : state_.cables) {
            if (state_.limits.contains(cable.fibre)) continue;
            if (auto limits = rules_.limits(limitsNameFor(state_.job.limits, cable), cable.fibre))
                state_.limits.emplace(cable.fibre, std::move(*limits));
            else
                state_.troubles.push_back(limits.error().message);
        }
    }

    void apply(const Entry& entry, const FaceSeen& seen)
    {
        FaceState& face = state_.faces[seen.face];
        Try look{entry.id, entry.at, seen, {}, {}, std::move(face.cleanedSince), {}};
        face.cleanedSince.clear();
        if (const auto criteria = state_.criteriaFor(seen.face)) {
            auto judged = face::judgeLook(seen.measured, *criteria, state_.profile);
            look.verdict = std::move(judged.verdict);
            look.reasons = std::move(judged.reasons);
        }
        if (look.verdict) {
            face.handled.clear();
            face.covered.clear();
            if (face.mated) open(seen.face);  // a face that is looked at is not in its partner
            state_.events.push_back({look.verdict->fit ? FaceEvent::Kind::SeenFit : FaceEvent::Kind::SeenBad, seen.face, {}, entry.id, entry.at});
        } else {
            face.cleanedSince = look.cleanedBefore;  // a bad picture shows nothing: the face is still unseen since
        }
        face.tries.push_back(std::move(look));
    }
    void apply(const Entry& entry, const FindingOverruled& said)
    {
        FaceState& face = state_.faces[said.face];
        const auto look = std::find_if(face.tries.begin(), face.tries.end(), [&](const Try& t) { return t.entry == said.look; });
        if (look == face.tries.end() || !look->verdict) return;
        auto& findings = look->seen.measured.findings;
        const auto found = std::find_if(findings.begin(), findings.end(), [&](const Finding& f) { return f.id == said.finding; });
        if (said.as == FindingOverruled::As::Missed) {
            int last = 0;
            for (const auto& f : findings) last = std::max(last, f.id);
            Finding f;
            f.id = last + 1;
            f.centre = said.place;
            f.size = f.width = f.length = said.size;
            f.nearest = std::max(Micrometre(0), said.place.radius() - said.size * 0.5);
            f.farthest = said.place.radius() + said.size * 0.5;
            findings.push_back(f);
        } else if (found == findings.end()) {
            state_.troubles.push_back(fmt::format("Entry {} overrules a finding that is not in the look; it changes nothing.", entry.id));
            return;
        } else if (said.as == FindingOverruled::As::NotReal) {
            findings.erase(found);
        } else {
            found->kind = said.as == FindingOverruled::As::Scratch ? FindingKind::Scratch : FindingKind::Defect;
            found->appearance = said.as == FindingOverruled::As::Scratch ? Appearance::Scratch : Appearance::Other;
        }
        look->overruled.push_back(said);
        if (const auto criteria = state_.criteriaFor(said.face)) look->verdict = judge(findings, *criteria, state_.profile);
        // what the look says of dirt is what the person says
        for (auto& e : state_.events)
            if (e.entry == said.look) e.kind = look->verdict->fit ? FaceEvent::Kind::SeenFit : FaceEvent::Kind::SeenBad;
    }
    /// A mated pair is parted.
    void open(const FaceId& face)
    {
        for (const Side side : {Side::Cord, Side::Port})
            for (const auto& id : ferruleOf(state_, {face.link, face.end, side})) {
                state_.faces[id].mated = false;
                state_.linkStates[id.link].mated.erase(id.end);
                state_.linkStates[id.link].sleeves.erase(id.end);
            }
    }
    void apply(const Entry&, const FaceCleaned& cleaned)
    {
        if (const auto tool = state_.kit.find(cleaned.tool); tool != state_.kit.end()) tool->second.used += cleaned.strokes;
        for (const auto& id : ferruleOf(state_, cleaned.face)) {  // a stroke touches every fibre of the ferrule
            FaceState& face = state_.faces[id];
            face.cleanedSince.push_back(cleaned);
            ++face.cleanings;
            if (face.mated) open(id);
        }
    }
    void apply(const Entry& entry, const Mated& mated)
    {
        for (const auto& port : ferruleOf(state_, {mated.link, mated.end, Side::Port})) {
            const FaceId cord{port.link, port.end, Side::Cord};
            state_.linkStates[port.link].mated.insert(mated.end);
            for (const auto& id : {cord, port}) {
                state_.faces[id].mated = true;
                state_.faces[id].covered.clear();
            }
            state_.events.push_back({FaceEvent::Kind::Joined, cord, port, entry.id, entry.at});
        }
    }
    void apply(const Entry&, const SleeveCleaned& cleaned)
    {
        for (const auto& id : ferruleOf(state_, {cleaned.link, cleaned.end, Side::Port})) state_.linkStates[id.link].sleeves.insert(id.end);
    }
    void apply(const Entry&, const FaceHandled& what)
    {
        for (const auto& id : ferruleOf(state_, what.face)) {
            if (state_.faces[id].mated) open(id);
            state_.faces[id].handled = what.how;
        }
    }
    void apply(const Entry&, const FaceCovered& where)
    {
        for (const auto& id : ferruleOf(state_, where.face)) state_.faces[id].covered = where.how == "open" ? std::string() : where.how;
    }
    void apply(const Entry&, const KitKept& item) { state_.kit[item.id].what = item; }
    void apply(const Entry& entry, const KitProved& proof)
    {
        if (const auto it = state_.kit.find(proof.id); it != state_.kit.end()) it->second.proofs[proof.what] = {entry.at, proof.good};
    }
    void apply(const Entry& entry, const KitChecked&) { state_.kitChecked = entry; }
    void apply(const Entry& entry, const Joined& joined)
    {
        // a fit face does no harm to another; after any other partner a face must be seen again
        const bool aFit = conditionOf(state_.faces[joined.a]) == FaceCondition::Fit, bFit = conditionOf(state_.faces[joined.b]) == FaceCondition::Fit;
        for (const auto& id : {joined.a, joined.b}) {
            if (state_.faces[id].mated) open(id);
            if (const auto cord = state_.kit.find(id.link); cord != state_.kit.end()) ++cord->second.used;
        }
        if (!bFit) state_.faces[joined.a].handled = "joined with " + state_.where(joined.b) + ", which was not fit";
        if (!aFit) state_.faces[joined.b].handled = "joined with " + state_.where(joined.a) + ", which was not fit";
        state_.events.push_back({FaceEvent::Kind::Joined, joined.a, joined.b, entry.id, entry.at});
    }
    void apply(const Entry&, const ReferenceSet& r)
    {
        state_.references[{r.direction, r.wavelength.value()}] = r.level;
        referenceMethod_[r.direction] = r.method;
    }
    void apply(const Entry&, const ReferenceVoided& voided)
    {
        std::erase_if(state_.references, [&](const auto& item) { return item.first.first == voided.direction; });
    }
    void apply(const Entry&, const PowerRead& read)
    {
        // readings under another method held other connections: they are other measurements and do not mix
        const auto method = referenceMethod_.contains(read.direction) ? referenceMethod_[read.direction] : state_.job.method;
        if (linkMethod_.contains(read.link) && linkMethod_[read.link] != method) {
            state_.linkStates[read.link].readings.clear();
            readings_[read.link].clear();
        }
        linkMethod_[read.link] = method;
        state_.linkStates[read.link].readings.push_back(read);
        const auto reference = state_.references.find({read.direction, read.wavelength.value()});
        readings_[read.link].push_back(
            {read.wavelength, read.direction, reference == state_.references.end() ? std::nullopt : std::optional(reference->second), read.power});
    }
    void apply(const Entry&, const TraceShot& shot) { state_.linkStates[shot.link].traces.push_back(shot); }
    void apply(const Entry& entry, const ScopeCalibrated& found) { state_.calibrations[found.scope] = {found.scale, entry.at}; }
    void apply(const Entry& entry, const Signed& sign)
    {
        if (state_.link(sign.subject)) {
            state_.linkStates[sign.subject].signedAt = entry.at;
            state_.linkStates[sign.subject].signedBy = entry.who;
        } else {
            state_.signedCables.insert(sign.subject);
        }
    }
    template <class Other>
    void apply(const Entry&, const Other&)
    {
    }

    void computeLossOf(const Link& link)
    {
        const auto it = readings_.find(link.id);
        const LimitSet* limits = state_.limitsFor(*link.cable);
        if (it == readings_.end() || !limits) return;
        state_.linkStates[link.id].loss = computeLoss(lossTaskOf(link, linkMethod_[link.id], it->second), *limits);
    }

    const Rules& rules_;
    const std::int64_t now_;
    JobState state_;
    std::map<std::string, std::vector<Reading>> readings_;
    std::map<Direction, ReferenceMethod> referenceMethod_;
    std::map<std::string, ReferenceMethod> linkMethod_;
};

}  // namespace

JobState fold(std::span<const Entry> entries, const Rules& rules, std::int64_t now) { return Folding(rules, now).run(entries); }

bool agedSince(const JobState& state, std::int64_t now)
{
    return std::any_of(state.faces.begin(), state.faces.end(), [&](const auto& item) { return openTooLong(state, item.second, now); });
}

}  // namespace clendo
