#include "record/fact_effects.h"

#include <fmt/format.h>

#include <algorithm>

#include "face/compare_looks.h"
#include "face/judge_look.h"
#include "record/ferrule.h"

namespace clendo {
namespace {

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

}  // namespace

FaceCondition conditionOf(const FaceState& face)
{
    const Try* last = face.lastJudged();
    const bool touched = !face.cleanedSince.empty() || !face.handled.empty();
    if (!last) return touched ? FaceCondition::Stale : FaceCondition::NotSeen;
    if (touched) return FaceCondition::Stale;
    if (last->verdict->fit) return FaceCondition::Fit;
    return damageRemains(face) ? FaceCondition::Damaged : FaceCondition::Work;
}

void FactEffects::apply(const Entry& entry)
{
    state_.lastEntryAt = std::max(state_.lastEntryAt, entry.at);
    std::visit([&](const auto& fact) { on(entry, fact); }, entry.fact);
}

void FactEffects::on(const Entry& entry, const FaceSeen& seen)
{
    FaceState& face = touch(seen.face);
    Try look{entry.id, entry.at, seen, {}, {}, std::move(face.cleanedSince), {}};
    face.cleanedSince.clear();
    if (const auto criteria = state_.criteria(seen.face)) {
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

void FactEffects::on(const Entry& entry, const FindingOverruled& said)
{
    FaceState& face = touch(said.face);
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
    if (const auto criteria = state_.criteria(said.face)) look->verdict = judge(findings, *criteria, state_.profile);
    // what the look says of dirt is what the person says
    for (auto& e : state_.events)
        if (e.entry == said.look) e.kind = look->verdict->fit ? FaceEvent::Kind::SeenFit : FaceEvent::Kind::SeenBad;
}

/// A mated pair is parted.
void FactEffects::open(const FaceId& face)
{
    for (const Side side : {Side::Cord, Side::Port})
        for (const auto& id : ferruleOf(state_, {face.link, face.end, side})) {
            touch(id).mated = false;
            LinkState& link = state_.linkStates[id.link];
            link.mated.erase(id.end);
            link.matedBecause.erase(id.end);
            link.sleeves.erase(id.end);
        }
}

void FactEffects::on(const Entry&, const FaceCleaned& cleaned)
{
    if (const auto tool = state_.kit.find(cleaned.tool); tool != state_.kit.end()) tool->second.used += cleaned.strokes;
    for (const auto& id : ferruleOf(state_, cleaned.face)) {  // a stroke touches every fibre of the ferrule
        FaceState& face = touch(id);
        face.cleanedSince.push_back(cleaned);
        ++face.cleanings;
        if (face.mated) open(id);
    }
}

void FactEffects::on(const Entry& entry, const Mated& mated)
{
    for (const auto& port : ferruleOf(state_, {mated.link, mated.end, Side::Port})) {
        const FaceId cord{port.link, port.end, Side::Cord};
        LinkState& link = state_.linkStates[port.link];
        link.mated.insert(mated.end);
        if (!mated.reason.empty()) link.matedBecause[mated.end] = mated.reason;
        for (const auto& id : {cord, port}) {
            FaceState& face = touch(id);
            face.mated = true;
            face.covered.clear();
        }
        state_.events.push_back({FaceEvent::Kind::Joined, cord, port, entry.id, entry.at});
    }
}

void FactEffects::on(const Entry&, const SleeveCleaned& cleaned)
{
    for (const auto& id : ferruleOf(state_, {cleaned.link, cleaned.end, Side::Port})) state_.linkStates[id.link].sleeves.insert(id.end);
}

void FactEffects::on(const Entry&, const FaceHandled& what)
{
    for (const auto& id : ferruleOf(state_, what.face)) {
        FaceState& face = touch(id);
        if (face.mated) open(id);
        face.handled = what.how;
    }
}

void FactEffects::on(const Entry&, const FaceCovered& where)
{
    for (const auto& id : ferruleOf(state_, where.face)) touch(id).covered = where.how == "open" ? std::string() : where.how;
}

void FactEffects::on(const Entry&, const KitKept& item) { state_.kit[item.id].what = item; }

void FactEffects::on(const Entry& entry, const KitProved& proof)
{
    if (const auto it = state_.kit.find(proof.id); it != state_.kit.end()) it->second.proofs[proof.what] = {entry.at, proof.good};
}

void FactEffects::on(const Entry& entry, const KitChecked&) { state_.kitChecked = entry; }

void FactEffects::on(const Entry& entry, const Joined& joined)
{
    // a fit face does no harm to another; after any other partner a face must be seen again
    FaceState &a = touch(joined.a), &b = touch(joined.b);
    const bool aFit = conditionOf(a) == FaceCondition::Fit, bFit = conditionOf(b) == FaceCondition::Fit;
    for (const auto& [id, face] : {std::pair<const FaceId&, FaceState&>(joined.a, a), {joined.b, b}}) {
        if (face.mated) open(id);
        if (const auto cord = state_.kit.find(id.link); cord != state_.kit.end()) ++cord->second.used;
    }
    if (!bFit) a.handled = "joined with " + state_.where(joined.b) + ", which was not fit";
    if (!aFit) b.handled = "joined with " + state_.where(joined.a) + ", which was not fit";
    state_.events.push_back({FaceEvent::Kind::Joined, joined.a, joined.b, entry.id, entry.at});
}

void FactEffects::on(const Entry&, const ReferenceSet& r)
{
    state_.references[{r.direction, r.wavelength.value()}] = r.level;
    referenceMethod_[r.direction] = r.method;
}

void FactEffects::on(const Entry&, const ReferenceVoided& voided)
{
    std::erase_if(state_.references, [&](const auto& item) { return item.first.first == voided.direction; });
}

void FactEffects::on(const Entry&, const PowerRead& read)
{
    // readings under another method held other connections: they are other measurements and do not mix
    const auto set = referenceMethod_.find(read.direction);
    const auto method = set == referenceMethod_.end() ? state_.job.method : set->second;
    auto& said = state_.linkStates[read.link].readings;
    auto& readings = readings_[read.link];
    const auto [before, first] = linkMethod_.try_emplace(read.link, method);
    if (!first && before->second != method) {
        said.clear();
        readings.clear();
        before->second = method;
    }
    readLinks_.insert(read.link);
    said.push_back(read);
    const auto reference = state_.references.find({read.direction, read.wavelength.value()});
    readings.push_back(
        {read.wavelength, read.direction, reference == state_.references.end() ? std::nullopt : std::optional(reference->second), read.power});
}

void FactEffects::on(const Entry&, const TraceShot& shot) { state_.linkStates[shot.link].traces.push_back(shot); }

void FactEffects::on(const Entry& entry, const ScopeCalibrated& found) { state_.calibrations[found.scope] = {found.scale, entry.at}; }

void FactEffects::on(const Entry& entry, const Signed& sign)
{
    if (state_.link(sign.subject)) {
        state_.linkStates[sign.subject].signedAt = entry.at;
        state_.linkStates[sign.subject].signedBy = entry.who;
    } else {
        state_.signedCables.insert(sign.subject);
    }
}

std::optional<LossReport> FactEffects::lossOf(const Link& link) const
{
    const auto read = readings_.find(link.id);
    const auto method = linkMethod_.find(link.id);
    const LimitSet* limits = state_.limitsFor(*link.cable);
    if (read == readings_.end() || method == linkMethod_.end() || !limits) return std::nullopt;
    return computeLoss(lossTaskOf(link, method->second, read->second), *limits);
}

}  // namespace clendo
