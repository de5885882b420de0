#include "record/state.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "face/compare_looks.h"
#include "face/judge_look.h"
#include "record/ferrule.h"

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
    if (!last) return face.cleanedSince.empty() ? FaceCondition::NotSeen : FaceCondition::Stale;
    if (!face.cleanedSince.empty()) return FaceCondition::Stale;
    if (last->verdict->fit) return FaceCondition::Fit;
    return damageRemains(face) ? FaceCondition::Damaged : FaceCondition::Work;
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
    explicit Folding(const Rules& rules) : rules_(rules) {}

    JobState run(std::span<const Entry> entries)
    {
        std::set<std::int64_t> corrected;
        for (const auto& entry : entries)
            if (const auto* c = std::get_if<Corrected>(&entry.fact)) corrected.insert(c->entry);
        // settings and plan first: what a fact means depends on them
        for (const auto& entry : entries)
            if (!corrected.contains(entry.id)) plan(entry);
        loadRules();
        for (auto& cable : state_.cables)
            for (auto& link : linksOf(cable)) state_.links.push_back(std::move(link));
        for (const auto& entry : entries) {
            state_.lastEntryAt = std::max(state_.lastEntryAt, entry.at);
            if (!corrected.contains(entry.id)) std::visit([&](const auto& fact) { apply(entry, fact); }, entry.fact);
        }
        for (auto& [id, face] : state_.faces) face.condition = conditionOf(face);
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
        const Link* link = state_.link(seen.face.link);
        const auto criteria = link ? state_.criteriaFor(*link) : std::nullopt;
        if (criteria) {
            auto judged = face::judgeLook(seen.measured, *criteria, state_.profile);
            look.verdict = std::move(judged.verdict);
            look.reasons = std::move(judged.reasons);
        }
        if (!look.verdict) face.cleanedSince = look.cleanedBefore;  // a bad picture shows nothing: the face is still unseen since
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
        const Link* link = state_.link(said.face.link);
        const auto criteria = link ? state_.criteriaFor(*link) : std::nullopt;
        if (criteria) look->verdict = judge(findings, *criteria, state_.profile);
    }
    void apply(const Entry&, const FaceCleaned& cleaned)
    {
        for (const auto& id : ferruleOf(state_, cleaned.face)) {  // a stroke touches every fibre of the ferrule
            FaceState& face = state_.faces[id];
            face.cleanedSince.push_back(cleaned);
            ++face.cleanings;
            if (face.mated) state_.linkStates[id.link].mated.erase(id.end);
            for (const Side side : {Side::Cord, Side::Port}) state_.faces[{id.link, id.end, side}].mated = false;
        }
    }
    void apply(const Entry&, const Mated& mated)
    {
        for (const Side side : {Side::Cord, Side::Port})
            for (const auto& id : ferruleOf(state_, {mated.link, mated.end, side})) {
                state_.linkStates[id.link].mated.insert(mated.end);
                state_.faces[id].mated = true;
            }
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
    JobState state_;
    std::map<std::string, std::vector<Reading>> readings_;
    std::map<Direction, ReferenceMethod> referenceMethod_;
    std::map<std::string, ReferenceMethod> linkMethod_;
};

}  // namespace

std::string_view name(FaceCondition condition)
{
    switch (condition) {
        case FaceCondition::NotSeen: return "not seen";
        case FaceCondition::Fit: return "fit";
        case FaceCondition::Work: return "needs work";
        case FaceCondition::Damaged: return "damaged";
        case FaceCondition::Stale: return "look again";
    }
    return "not seen";
}

const Try* FaceState::lastJudged() const
{
    const auto it = std::find_if(tries.rbegin(), tries.rend(), [](const Try& t) { return t.verdict.has_value(); });
    return it == tries.rend() ? nullptr : &*it;
}

const Try* FaceState::judgedBefore() const
{
    const auto judged = [](const Try& t) { return t.verdict.has_value(); };
    const auto last = std::find_if(tries.rbegin(), tries.rend(), judged);
    if (last == tries.rend()) return nullptr;
    const auto before = std::find_if(std::next(last), tries.rend(), judged);
    return before == tries.rend() ? nullptr : &*before;
}

const Link* JobState::link(std::string_view id) const
{
    const auto it = std::find_if(links.begin(), links.end(), [&](const Link& l) { return l.id == id; });
    return it == links.end() ? nullptr : &*it;
}

const FaceState& JobState::face(const FaceId& id) const
{
    static const FaceState unseen;
    const auto it = faces.find(id);
    return it == faces.end() ? unseen : it->second;
}

const LinkState& JobState::state(std::string_view link) const
{
    static const LinkState nothing;
    const auto it = linkStates.find(std::string(link));
    return it == linkStates.end() ? nothing : it->second;
}

std::optional<ConnectorCriteria> JobState::criteriaFor(const Link& l) const
{
    auto found = profile.find(l.cable->criteria);
    return found ? std::optional(std::move(*found)) : std::nullopt;
}

const LimitSet* JobState::limitsFor(const CablePlan& cable) const
{
    const auto it = limits.find(cable.fibre);
    return it == limits.end() ? nullptr : &it->second;
}

std::vector<int> JobState::wavelengthsFor(const CablePlan& cable) const
{
    const bool multimode = isMultimode(cable);
    std::vector<int> out;
    for (const int nm : job.wavelengths)
        if (multimode == (nm <= 1300)) out.push_back(nm);
    if (out.empty()) out = multimode ? std::vector{850, 1300} : std::vector{1310, 1550};
    return out;
}

JobState fold(std::span<const Entry> entries, const Rules& rules) { return Folding(rules).run(entries); }

std::optional<std::string> coreMix(const JobState& state, const Link& link, End end)
{
    const auto words = [](CoreKind core) {
        return core == CoreKind::SingleMode ? "single-mode" : core == CoreKind::Multimode50 ? "50 µm" : "62.5 µm";
    };
    std::optional<CoreKind> first;
    std::string firstWhere;
    for (const Side side : {Side::Cord, Side::Port}) {
        const FaceId id{link.id, end, side};
        const Try* seen = state.face(id).lastJudged();
        if (!seen || !seen->seen.measured.core || seen->seen.measured.coreInferred) continue;
        const CoreKind core = *seen->seen.measured.core;
        if (first && core != *first)
            return fmt::format("cores are mixed: the {} shows a {} core, the {} a {} one", firstWhere, words(*first), link.where(id), words(core));
        const auto criteria = state.criteriaFor(link);
        if (criteria && criteria->multimode == (core == CoreKind::SingleMode))
            return fmt::format("the {} shows a {} core, the plan says {}", link.where(id), words(core),
                               criteria->multimode ? "multimode" : "single-mode");
        first = core;
        firstWhere = link.where(id);
    }
    return std::nullopt;
}

Result<void> mayMate(const JobState& state, const Link& link, End end)
{
    for (const Side side : {Side::Cord, Side::Port}) {
        const FaceId id = decidingFace(state, {link.id, end, side});
        const auto condition = state.face(id).condition;
        if (condition == FaceCondition::Fit) continue;
        const std::string where = state.link(id.link)->where(id);
        const char* why = condition == FaceCondition::NotSeen   ? "was not looked at"
                          : condition == FaceCondition::Stale   ? "was cleaned and not looked at again"
                          : condition == FaceCondition::Damaged ? "is damaged"
                                                                : "needs cleaning";
        return failure(Error::Code::StepRefused, fmt::format("Not yet: the {} {}. Both faces must be seen fit before they touch.", where, why));
    }
    if (const auto mix = coreMix(state, link, end))
        return failure(Error::Code::StepRefused, fmt::format("Do not mate: {}. Find the right cord, or correct the plan.", *mix));
    if (const auto pins = pinMix(state, link, end)) return failure(Error::Code::StepRefused, fmt::format("Do not mate: {}.", *pins));
    return {};
}

Result<void> maySign(const JobState& state, const Link& link)
{
    std::vector<std::string> missing;
    const LinkState& s = state.state(link.id);
    for (const End end : {End::A, End::B})
        if (!s.mated.contains(end)) missing.push_back(fmt::format("end {} is not mated", name(end)));
    if (!s.loss)
        missing.emplace_back("no loss was read");
    else if (s.loss->verdict == LossVerdict::NotValid)
        missing.emplace_back("the loss has no trustworthy reference");
    if (missing.empty()) return {};
    std::string list;
    for (const auto& m : missing) list += (list.empty() ? "" : ", ") + m;
    return failure(Error::Code::StepRefused, fmt::format("Fibre {} cannot be signed yet: {}.", link.fibre, list));
}

LossTask lossTaskOf(const Link& link, ReferenceMethod method, const std::vector<Reading>& readings)
{
    return {link.id, {link.cable->fibre, link.cable->length, connectionsPerLink, static_cast<int>(link.cable->splices.size())}, method, {}, readings};
}

}  // namespace clendo
