#include "face/judge/held_apart.h"

#include <algorithm>

namespace clendo::face {
namespace {

constexpr Micrometre raisedFrom{2}, facesTouchWithin{125};  // smaller things are pressed into the glass; sprung, domed ferrules touch in the middle

}  // namespace

bool mayBeHeldApart(const std::vector<Finding>& findings)
{
    return std::any_of(findings.begin(), findings.end(), [](const Finding& f) {
        const bool raised = f.appearance == Appearance::Particle || f.appearance == Appearance::Lint || f.appearance == Appearance::Other;
        return raised && f.kind == FindingKind::Defect && f.size >= raisedFrom && f.nearest < facesTouchWithin;
    });
}

}  // namespace clendo::face
