#include "criteria/judge.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace clendo {
namespace {

bool counts(const Rule& rule, const Finding& finding)
{
    switch (rule.kind) {
        case RuleKind::Scratch: return finding.kind == FindingKind::Scratch;
        case RuleKind::Defect: return finding.kind == FindingKind::Defect;
        case RuleKind::Crack: return finding.appearance == Appearance::Crack;
    }
    return false;
}

bool inBand(const Rule& rule, Micrometre size)
{
    const bool above = rule.lowerIncluded ? size >= rule.lower : size > rule.lower;
    return above && (!rule.upper || size <= *rule.upper);
}

bool liesIn(Zone zone, const Finding& finding, const FaceClass& faceClass, const Criteria& criteria)
{
    if (finding.kind != FindingKind::Scratch || !criteria.scratchInEveryZone) return zoneOf(finding, faceClass) == zone;
    return std::any_of(faceClass.zones.begin(), faceClass.zones.end(),
                       [&](const ZoneRing& ring) { return ring.zone == zone && finding.nearest * 2 < ring.to && finding.farthest * 2 >= ring.from; });
}

bool isCounted(const Rule& rule, const Finding& finding, const FaceClass& faceClass, const Criteria& criteria)
{
    return counts(rule, finding) && inBand(rule, judgedSize(finding)) && liesIn(rule.zone, finding, faceClass, criteria);
}

RuleOutcome apply(const Rule& rule, const std::vector<Finding>& findings, const FaceClass& faceClass, const Criteria& criteria)
{
    RuleOutcome out{rule, 0, true, {}};
    for (const auto& finding : findings)
        if (isCounted(rule, finding, faceClass, criteria)) out.findings.push_back(finding.id);
    out.counted = static_cast<int>(out.findings.size());
    out.met = !rule.allowed || out.counted <= *rule.allowed;
    return out;
}

Verdict applyAll(const std::vector<Finding>& findings, const FaceClass& faceClass, const Criteria& criteria)
{
    Verdict verdict;
    verdict.outcomes.reserve(faceClass.rules.size());
    for (const auto& rule : faceClass.rules) {
        verdict.outcomes.push_back(apply(rule, findings, faceClass, criteria));
        verdict.fit = verdict.fit && verdict.outcomes.back().met;
    }
    return verdict;
}

/// In what a measurement may be wrong: sizes too small (+1) or too large (-1), places too far out (+1) or too far in (-1), what hardly shows may be
/// nothing, and what is neither short nor long may be of the other kind.
struct Wrong {
    double size, place;
    bool faint;
    bool kind;
};

constexpr std::array<Wrong, 5> wrongs{
    {{1, 1, false, false}, {1, -1, false, false}, {-1, 1, true, false}, {-1, -1, true, false}, {0, 0, false, true}}};
constexpr double part = 0.5;          // of the uncertainty
constexpr double hardlyShows = 0.14;  // contrast: other light may hide it

// How much farther off sizes are where little stands out, and beside the glass, where the ring blurs the edge and the ferrule is looked at with
// larger pixels. With them the stated uncertainty holds in 95 % on drawn faces: benchmarks/sizes-on-set.
constexpr double faint = 0.18, faintMore = 1.5;  // contrast
constexpr double shortest = 3.3, longest = 6;    // length over width, between which a flake and a short scratch do not differ for sure
constexpr Micrometre besideTheGlass(57);         // from its centre
constexpr double besideMore = 2;

bool mayBeOfTheOtherKind(const Finding& f)
{
    const bool sharp = f.appearance == Appearance::Particle || f.appearance == Appearance::Scratch;
    return sharp && f.length > f.width * shortest && f.length < f.width * longest;
}

Finding shifted(Finding f, const Criteria& criteria, const Wrong& wrong)
{
    const Micrometre step = sizeUncertainty(f, criteria) * (part * wrong.size);
    f.size = std::max(Micrometre(0.1), f.size + step);
    f.width = std::max(Micrometre(0.1), f.width + step);
    f.nearest = std::max(Micrometre(0), f.nearest - criteria.placeUncertainty * (part * wrong.place));
    if (wrong.kind && mayBeOfTheOtherKind(f)) f.kind = f.kind == FindingKind::Scratch ? FindingKind::Defect : FindingKind::Scratch;
    return f;
}

/// Whether findings that are wrong so meet all rules. Nothing is kept of it: journals of a hundred thousand looks are judged at every opening.
bool fitsIf(const Wrong& wrong, const std::vector<Finding>& findings, const FaceClass& faceClass, const Criteria& criteria)
{
    std::vector<Finding> moved;
    moved.reserve(findings.size());
    for (const auto& f : findings)
        if (!wrong.faint || f.contrast == 0 || std::abs(f.contrast) >= hardlyShows) moved.push_back(shifted(f, criteria, wrong));
    return std::all_of(faceClass.rules.begin(), faceClass.rules.end(), [&](const Rule& rule) {
        return !rule.allowed ||
               std::count_if(moved.begin(), moved.end(), [&](const Finding& f) { return isCounted(rule, f, faceClass, criteria); }) <= *rule.allowed;
    });
}

}  // namespace

const RuleOutcome* Verdict::broken() const
{
    const auto it = std::find_if(outcomes.begin(), outcomes.end(), [](const RuleOutcome& o) { return !o.met; });
    return it == outcomes.end() ? nullptr : &*it;
}

std::set<int> Verdict::breaking() const
{
    std::set<int> ids;
    for (const auto& o : outcomes)
        if (!o.met) ids.insert(o.findings.begin(), o.findings.end());
    return ids;
}

std::optional<Zone> zoneOf(const Finding& finding, const FaceClass& faceClass)
{
    for (const auto& ring : faceClass.zones)
        if (finding.nearest * 2 < ring.to) return ring.zone;
    return std::nullopt;
}

Micrometre judgedSize(const Finding& finding) { return finding.kind == FindingKind::Scratch ? finding.width : finding.size; }

Micrometre sizeUncertainty(const Finding& finding, const Criteria& criteria)
{
    const double contrast = std::abs(finding.contrast);  // 0: not known
    const double x = finding.centre.x.value(), y = finding.centre.y.value(), glass = besideTheGlass.value();
    const bool beside = x * x + y * y > glass * glass;
    return std::max(criteria.sizeUncertainty, judgedSize(finding) * criteria.sizeUncertaintyShare) *
           (contrast > 0 && contrast < faint ? faintMore : 1) * (beside ? besideMore : 1);
}

Verdict judge(const std::vector<Finding>& findings, const FaceClass& faceClass, const Criteria& criteria)
{
    Verdict verdict = applyAll(findings, faceClass, criteria);
    if (!findings.empty())
        verdict.nearLimit = std::any_of(wrongs.begin(), wrongs.end(), [&](const Wrong& wrong) {
            if (wrong.kind && std::none_of(findings.begin(), findings.end(), mayBeOfTheOtherKind)) return false;
            return fitsIf(wrong, findings, faceClass, criteria) != verdict.fit;
        });
    return verdict;
}

}  // namespace clendo
