#include "record/rules/reels.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

#include "record/journal/time_text.h"
#include "record/rules/plan_match.h"

namespace clendo {
namespace {

bool sameWavelengths(Nanometre a, Nanometre b) { return std::abs((a - b).value()) < sameWavelength.value(); }

reel::ReelShot shotOf(const ReelTraced& traced) { return {traced.fibre, traced.wavelength, traced.spacing, traced.launch, traced.found}; }

/// The order of countingShots().
struct OfFibre {
    bool operator()(const Filed<ReelTraced>* shot, int fibre) const { return shot->what.fibre < fibre; }
    bool operator()(int fibre, const Filed<ReelTraced>* shot) const { return fibre < shot->what.fibre; }
};

/// Whether a fibre was tested at every wavelength at which something was ordered; at any where nothing was.
bool testedAtAll(const reel::Delivery& delivery, const std::vector<const Filed<ReelTraced>*>& shots, const std::set<int>& tested, int fibre)
{
    if (!tested.contains(fibre)) return false;
    return std::all_of(delivery.allowed.begin(), delivery.allowed.end(), [&](const auto& ordered) {
        const auto [from, to] = std::equal_range(shots.begin(), shots.end(), fibre, OfFibre());
        return std::any_of(from, to, [&](const auto* shot) { return sameWavelengths(shot->what.wavelength, Nanometre(ordered.first)); });
    });
}

/// The last entry that names the cord, whatever it was.
bool names(const Fact& fact, const std::string& cord)
{
    if (const auto* traced = std::get_if<ReelTraced>(&fact)) return traced->cord == cord;
    if (const auto* shot = std::get_if<TraceShot>(&fact))
        return (shot->launchEnd && shot->launchEnd->link == cord) || (shot->tailEnd && shot->tailEnd->link == cord);
    const std::string end = cord + "/";
    return subjectOf(fact).starts_with(end) || otherSubjectOf(fact).starts_with(end);
}

}  // namespace

std::vector<const Filed<ReelTraced>*> countingShots(const ReelState& reel)
{
    std::map<int, std::vector<const Filed<ReelTraced>*>> byFibre;
    for (const auto& shot : reel.shots) {
        auto& of = byFibre[shot.what.fibre];
        std::erase_if(of, [&](const auto* before) { return sameWavelengths(before->what.wavelength, shot.what.wavelength); });
        of.push_back(&shot);
    }
    std::vector<const Filed<ReelTraced>*> out;
    for (const auto& [fibre, shots] : byFibre) out.insert(out.end(), shots.begin(), shots.end());
    return out;
}

ReelStanding standingOf(const JobState& state, const std::string& name)
{
    ReelStanding out;
    out.filed = state.reels.find(name);
    if (!out.filed) return out;
    const ReelState& filed = *out.filed;
    reel::Delivery delivery;
    delivery.reel = name;
    if (filed.delivered) delivery = filed.delivered->what.delivery;
    const std::string_view asked = state.policy("reel");
    out.asksForSample = asked == "sample" && delivery.fibres > 1;
    const auto sample = asked == "sample" && filed.sampled ? std::optional(filed.sampled->what.sample) : std::nullopt;
    const auto counting = countingShots(filed);
    std::vector<reel::ReelShot> shots;
    for (const auto* shot : counting) shots.push_back(shotOf(shot->what));
    if (auto report = reel::judgeReel(delivery, sample, shots))
        out.report = std::move(*report);
    else
        out.trouble = report.error().message;
    if (sample)
        out.wanted = sample->drawn;
    else if (asked == "one" || delivery.fibres == 1)
        out.wanted = {filed.shots.empty() ? 1 : filed.shots.front().what.fibre};
    else if (asked == "all") {
        out.wanted.resize(static_cast<std::size_t>(delivery.fibres));
        std::iota(out.wanted.begin(), out.wanted.end(), 1);
    }
    const std::set<int> tested(out.report.tested.begin(), out.report.tested.end());
    for (const int fibre : out.wanted)
        if (!testedAtAll(delivery, counting, tested, fibre)) out.open.push_back(fibre);
    if (!filed.shots.empty()) out.last = reel::readShot(delivery, shotOf(filed.shots.back().what));
    out.decisionOvertaken = filed.decided && filed.shots.size() > filed.shotsWhenDecided;
    out.proposed = out.open.empty() || out.report.verdict == reel::ReelVerdict::Reject ? out.report.verdict : reel::ReelVerdict::NotJudged;
    out.verdict = out.decided() ? filed.decided->what.verdict : out.proposed;
    return out;
}

std::vector<reel::Stock> stockOf(const JobState& state)
{
    std::vector<reel::Stock> out;
    for (const auto& [name, reel] : state.reels) {
        const ReelStanding standing = standingOf(state, name);
        const auto& best = standing.report.length.best;
        if (standing.verdict == reel::ReelVerdict::Reject || !best) continue;
        const Metre least = best->length - 2 * best->uncertainty;
        if (least > Metre(0)) out.push_back({name, Metre(std::floor(least.value()))});
    }
    return out;
}

std::vector<std::string> notAccepted(const JobState& state, const std::vector<reel::Stock>& stock)
{
    std::vector<std::string> out;
    for (const auto& reel : stock)
        if (!standingOf(state, reel.reel).decided()) out.push_back(reel.reel);
    return out;
}

std::vector<std::string> cutTroubles(const JobState& state, const CutsPlanned& plan)
{
    std::vector<std::string> out;
    const auto stock = stockOf(state);
    for (const auto& cuts : plan.cuts) {
        if (cuts.cuts.empty()) continue;
        const auto now = std::find_if(stock.begin(), stock.end(), [&](const auto& s) { return s.reel == cuts.reel; });
        Metre cut{0};
        for (const auto& piece : cuts.cuts) cut += piece.length;
        if (now == stock.end())
            out.push_back(fmt::format("Reel {} was rejected, or its length is not known: plan again.", cuts.reel));
        else if (cut > now->length + Metre(1e-3))
            out.push_back(fmt::format("Reel {} holds {:.0f} m for sure, {:.0f} m are to be cut from it: plan again.", cuts.reel, now->length.value(),
                                      cut.value()));
    }
    return out;
}

std::string CordHistory::sentence(const std::string& cord) const
{
    std::string out = who.empty() ? fmt::format("Nobody is on record with {}.", cord)
                                  : fmt::format("{} was last used by {}, {}: {}.", cord, who, timeText(at), what);
    return out + (provenAt == 0 ? " It was never proven in this job." : fmt::format(" It was last proven {}.", timeText(provenAt)));
}

CordHistory historyOf(const JobState& state, std::span<const Entry> journal, const std::string& cord)
{
    CordHistory out;
    for (auto entry = journal.rbegin(); entry != journal.rend() && out.who.empty(); ++entry)
        if (names(entry->fact, cord)) {
            out.who = entry->who;
            out.at = entry->at();
            out.what = sentenceOf(entry->fact, state);
        }
    if (const auto item = state.kit.find(cord); item != state.kit.end())
        for (const auto& [what, proof] : item->second.proofs)
            if (proof.good) out.provenAt = std::max(out.provenAt, proof.at);
    return out;
}

int usesOf(const JobState& state, const std::string& part)
{
    int out = 0;
    for (const auto& [name, reel] : state.reels)
        out += static_cast<int>(std::count_if(reel.joints.begin(), reel.joints.end(), [&](const auto& joint) { return joint.what.part == part; }));
    return out;
}

std::optional<TraceShot> asOnTheReel(const JobState& state, const Link& link, const TraceShot& shot)
{
    const auto laid = state.laid.find(link.cable->id);
    const ReelState* reel = laid == state.laid.end() ? nullptr : state.reels.find(laid->second.reel);
    if (!reel || shot.direction != (laid->second.shotEndAtA ? Direction::AtoB : Direction::BtoA)) return std::nullopt;
    for (const auto* traced : countingShots(*reel)) {
        const ReelTraced& then = traced->what;
        if (then.fibre != link.fibre || !sameWavelengths(then.wavelength, shot.wavelength)) continue;
        TraceShot out;
        out.link = link.id;
        out.direction = shot.direction;
        out.trace = then.trace;
        out.traceName = then.traceName;
        out.wavelength = then.wavelength;
        out.cords = {then.launch, Metre(0)};
        out.found = then.found;
        // a reel may be longer than what was laid of it: counted from the end that was shot into, both begin at the same place
        if (out.found.span && shot.found.span) out.found.span->to = out.found.span->from + shot.found.span->length();
        return out;
    }
    return std::nullopt;
}

}  // namespace clendo
