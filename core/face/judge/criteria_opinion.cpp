#include "face/judge/criteria_opinion.h"

#include <fmt/format.h>

namespace clendo::face {

CriteriaOpinion opinionOf(const FaceMeasurement& look, std::string_view className, const Criteria& criteria)
{
    const auto faceClass = criteria.find(className);
    if (!faceClass) return {{}, faceClass.error().message};
    CriteriaOpinion out{judgeLook(look, *faceClass, criteria), {}};
    if (!out.said.verdict)
        out.words = fmt::format("not judged by {}: {}", criteria.name, out.said.reasons.empty() ? "no evidence" : out.said.reasons.front());
    else if (const RuleOutcome* broken = out.said.verdict->broken())
        out.words = fmt::format("fails by {}: zone {}, {}: {} found, {} allowed", criteria.name, name(broken->rule.zone), bandWords(broken->rule),
                                broken->counted, *broken->rule.allowed == 0 ? "none" : std::to_string(*broken->rule.allowed));
    else
        out.words = fmt::format("passes by {}{}", criteria.name, out.said.verdict->nearLimit ? ", near a limit" : "");
    return out;
}

}  // namespace clendo::face
