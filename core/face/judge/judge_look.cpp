#include "face/judge/judge_look.h"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

namespace clendo::face {
Micrometre resolves(const FaceMeasurement& look, const Criteria& criteria) { return criteria.detection.surelyFound(look.scale, look.blur); }

LookVerdict judgeLook(const FaceMeasurement& look, const FaceClass& faceClass, const Criteria& criteria)
{
    LookVerdict out;
    for (const auto reason : look.retake) out.reasons.emplace_back(sentenceOf(reason));
    if (!look.usable()) return out;
    Verdict verdict = judge(look.findings, faceClass, criteria);
    const Micrometre seen = resolves(look, criteria);
    if (verdict.fit && seen > criteria.mustResolve)
        out.reasons.push_back(
            fmt::format("No loose dirt is seen, but this picture cannot exclude defects under {:.1f} µm; the criteria need {:g} µm. Take "
                        "it at a higher magnification or sharper.",
                        seen.value(), criteria.mustResolve.value()));
    else
        out.verdict = std::move(verdict);
    return out;
}

int countInGlass(const FaceMeasurement& look, const FaceClass& faceClass)
{
    return static_cast<int>(std::count_if(look.findings.begin(), look.findings.end(), [&](const Finding& f) {
        const auto zone = zoneOf(f, faceClass);
        return zone == Zone::A || zone == Zone::B;
    }));
}

}  // namespace clendo::face
