#include "record/state/spots.h"

#include "face/judge/compare_looks.h"
#include "face/judge/held_apart.h"

namespace clendo {

bool isKnownPit(const Finding& finding, const FaceState& face)
{
    if (finding.appearance != Appearance::Pit) return false;
    const Look *last = face.lastJudged(), *before = face.judgedBefore();
    return before && !last->cleanedBefore.empty() &&
           face::compareLooks(before->seen.measured.findings, last->seen.measured.findings).ofLater(finding.id) == face::Fate::Stayed;
}

bool mayBeHeldApart(const FaceState& face)
{
    const Look* last = face.lastJudged();
    if (!last) return false;
    auto findings = last->seen.measured.findings;
    for (auto& f : findings)
        if (f.appearance == Appearance::Pit && !isKnownPit(f, face)) f.appearance = Appearance::Particle;
    return face::mayBeHeldApart(findings);
}

}  // namespace clendo
