#include "record/rules/reference_faces.h"

#include <fmt/format.h>

namespace clendo {

std::vector<ReferenceFace> facesOfReference(const JobState& state, const std::vector<std::string>& inHand)
{
    std::vector<ReferenceFace> out;
    const auto add = [&](const FaceId& face) { out.push_back({face, state.face(face).condition == FaceCondition::Fit}); };
    for (const auto& name : inHand) {
        const auto item = state.kit.find(name);
        if (item == state.kit.end()) continue;
        if (item->second.what.kind == "cord") {
            add({name, End::A, Side::Cord});
            add({name, End::B, Side::Cord});
        } else if (const auto* kind = kitKindNamed(state.plan->kitKinds, item->second.what.kind); kind && kind->port) {
            add({name, End::A, Side::Port});
        }
    }
    return out;
}

std::string facesToSeeFirst(const JobState& state, const std::vector<std::string>& inHand)
{
    std::string out;
    for (const auto& one : facesOfReference(state, inHand))
        if (!one.trusted) out += fmt::format("{}{}", out.empty() ? "See, and clean where they are not fit, first: " : "; ", state.where(one.face));
    return out.empty() ? out : out + ".";
}

}  // namespace clendo
