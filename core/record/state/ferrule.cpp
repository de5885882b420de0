#include "record/state/ferrule.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <map>

namespace clendo {
namespace {

bool bad(FaceCondition condition) { return condition == FaceCondition::Work || condition == FaceCondition::Damaged; }

/// Pins or holes, as any look at this ferrule showed them last.
std::optional<face::Guide> guideOf(const JobState& state, const FaceId& face)
{
    std::optional<face::Guide> seen;
    for (const auto& id : ferruleOf(state, face))
        if (const Look* look = state.face(id).lastJudged(); look && look->seen.measured.guide != face::Guide::NotSeen)
            seen = look->seen.measured.guide;
    return seen;
}

}  // namespace

std::vector<FaceId> ferruleOf(const JobState& state, const FaceId& face)
{
    const Link* link = state.link(face.link);
    if (!link || link->cable->ferruleFibres <= 1) return {face};
    std::vector<FaceId> out;
    const int size = link->cable->ferruleFibres;
    // the links of a cable stand one after another
    const auto* first = link - (link->fibre - 1) % size;
    for (const auto* other = first;
         other < first + size && other != state.plan->links.data() + state.plan->links.size() && other->cable == link->cable; ++other)
        out.push_back({other->id, face.connection, face.side});
    return out;
}

FaceId decidingFace(const JobState& state, const FaceId& face)
{
    const auto faces = ferruleOf(state, face);
    using enum FaceCondition;
    constexpr std::array seeAllFirst{NotSeen, Stale, Damaged, Work}, stopAtBad{Damaged, Work, NotSeen, Stale};
    for (const auto condition : state.plan->job.stopAtFirstBad ? stopAtBad : seeAllFirst) {
        if (state.face(face).condition == condition) return face;
        const auto it = std::find_if(faces.begin(), faces.end(), [&](const FaceId& id) { return state.face(id).condition == condition; });
        if (it != faces.end()) return *it;
    }
    return face;
}

std::string ferruleTally(const JobState& state, const FaceId& face)
{
    const auto faces = ferruleOf(state, face);
    if (faces.size() < 2) return {};
    std::map<FaceCondition, std::string> fibres;
    int fit = 0;
    for (const auto& id : faces) {
        const auto condition = state.face(id).condition;
        fit += condition == FaceCondition::Fit ? 1 : 0;
        std::string& list = fibres[condition];
        list += fmt::format("{}{}", list.empty() ? "" : ", ", state.link(id.link)->fibre);
    }
    std::string out = fmt::format("{} of {} fibres fit", fit, faces.size());
    for (const auto condition : {FaceCondition::Damaged, FaceCondition::Work, FaceCondition::NotSeen, FaceCondition::Stale})
        if (fibres.contains(condition)) out += fmt::format("; {}: {}", name(condition), fibres[condition]);
    return out + ".";
}

Result<std::vector<FibreSeen>> assignFibres(const JobState& state, const FaceId& chosen, const std::vector<face::FaceMeasurement>& seen, KeyWay key)
{
    const auto faces = ferruleOf(state, chosen);
    if (faces.size() == 1 || (seen.size() == 1 && !seen.front().usable())) return std::vector<FibreSeen>{{chosen, seen.front()}};
    if (faces.size() % seen.size() != 0)
        return failure(
            Error::Code::StepRefused,
            fmt::format("The picture shows {} fibres, the ferrule has {}. Bring the whole row or a whole group (a half, a third, …) into the "
                        "picture; nothing was filed.",
                        seen.size(), faces.size()));
    const auto at = static_cast<std::size_t>(std::find(faces.begin(), faces.end(), chosen) - faces.begin());
    const auto lower = static_cast<std::size_t>(std::count_if(seen.begin(), seen.end(), [](const auto& m) { return m.row == 2; }));
    const std::size_t columns = faces.size() / static_cast<std::size_t>(rowsOfFerrule(static_cast<int>(faces.size())));
    const bool bothRows = lower > 0;
    const std::size_t wide = bothRows ? lower : seen.size();  // groups follow each other along a row; where both rows show, through both
    if ((bothRows && (columns == faces.size() || 2 * lower != seen.size())) || columns % wide != 0)
        return failure(
            Error::Code::StepRefused,
            fmt::format("The picture shows {}, and the ferrule has {}. Bring a whole row, an even part of one, or the same columns of both rows "
                        "into the picture; nothing was filed.",
                        bothRows ? fmt::format("rows of {} and {} fibres", seen.size() - lower, lower) : fmt::format("{} fibres", wide),
                        columns == faces.size() ? "one row" : fmt::format("two rows of {}", columns)));
    const std::size_t first = bothRows ? at % columns / wide * wide : at / wide * wide;
    std::vector<FibreSeen> out;
    for (std::size_t i = 0; i < seen.size(); ++i)
        out.push_back({faces[first + i % wide + i / wide * columns], seen[key == KeyWay::Up ? i : seen.size() - 1 - i]});
    return out;
}

std::optional<FaceId> nextGroup(const JobState& state, const FaceId& filed)
{
    const auto faces = ferruleOf(state, filed);
    if (state.plan->job.stopAtFirstBad && std::any_of(faces.begin(), faces.end(), [&](const FaceId& id) { return bad(state.face(id).condition); }))
        return std::nullopt;
    const auto it = std::find_if(faces.begin(), faces.end(), [&](const FaceId& id) {
        return state.face(id).condition == FaceCondition::NotSeen || state.face(id).condition == FaceCondition::Stale;
    });
    return it == faces.end() ? std::nullopt : std::optional(*it);
}

std::optional<std::string> pinMix(const JobState& state, const Link& link, Connection at)
{
    const auto cord = guideOf(state, {link.id, at, Side::Cord}), port = guideOf(state, {link.id, at, Side::Port});
    const auto planned = [&](Side side) -> std::optional<face::Guide> {
        const auto pins = link.cable->pinsAt(at);
        if (!pins || link.cable->ferruleFibres == 1) return std::nullopt;
        return *pins == side ? face::Guide::Pin : face::Guide::Hole;
    };
    if (cord && port) {
        if (*cord != *port) return std::nullopt;
        return *cord == face::Guide::Pin ? "both ferrules have guide pins: forced together they break"
                                         : "neither ferrule has guide pins: nothing aligns them";
    }
    // one of them was seen: the plan says what the other has
    const Side seen = cord ? Side::Cord : Side::Port, other = cord ? Side::Port : Side::Cord;
    const auto shown = cord ? cord : port;
    if (!shown || shown != planned(other)) return std::nullopt;
    return fmt::format("the {}'s ferrule has {}, and by the plan so has the {}'s: {}. Take the other kind of cord, or correct the plan", name(seen),
                       *shown == face::Guide::Pin ? "guide pins" : "no guide pins", name(other),
                       *shown == face::Guide::Pin ? "forced together they break" : "nothing would align them");
}

}  // namespace clendo
