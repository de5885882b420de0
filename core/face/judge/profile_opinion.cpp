#include "face/judge/profile_opinion.h"

#include <fmt/format.h>

namespace clendo::face {

ProfileOpinion opinionOf(const FaceMeasurement& look, std::string_view className, const Profile& profile)
{
    const auto criteria = profile.find(className);
    if (!criteria) return {{}, criteria.error().message};
    ProfileOpinion out{judgeLook(look, *criteria, profile), {}};
    if (!out.said.verdict)
        out.words = fmt::format("not judged by {}: {}", profile.name, out.said.reasons.empty() ? "no evidence" : out.said.reasons.front());
    else if (const RuleOutcome* broken = out.said.verdict->broken())
        out.words = fmt::format("fails by {}: zone {}, {}: {} found, {} allowed", profile.name, name(broken->rule.zone), bandWords(broken->rule),
                                broken->counted, *broken->rule.allowed == 0 ? "none" : std::to_string(*broken->rule.allowed));
    else
        out.words = fmt::format("passes by {}{}", profile.name, out.said.verdict->nearLimit ? ", near a limit" : "");
    return out;
}

}  // namespace clendo::face
