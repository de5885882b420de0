#include "record/output/cleanings_by_dirt.h"

#include <fmt/format.h>

#include <algorithm>
#include <vector>

#include "face/judge/compare_looks.h"

namespace clendo {

std::optional<face::Dirt> dirtOf(const FaceState& face, std::size_t at)
{
    const auto& findings = face.looks[at].seen.measured.findings;
    int stayed = 0;
    if (!face.looks[at].cleanedBefore.empty())
        for (std::size_t before = at; before-- > 0;)
            if (face.looks[before].verdict) {
                stayed = face::compareLooks(face.looks[before].seen.measured.findings, findings).count(face::Fate::Stayed);
                break;
            }
    return face::dirtOf(findings, stayed);
}

std::map<std::pair<face::DirtKind, std::string>, CleaningShare> cleaningsByDirt(const JobState& state)
{
    std::map<std::pair<face::DirtKind, std::string>, CleaningShare> out;
    for (const auto& [id, face] : state.faces) {
        std::optional<std::size_t> before;
        for (std::size_t i = 0; i < face.looks.size(); ++i) {
            const Look& look = face.looks[i];
            if (!look.verdict) continue;
            if (before && look.cleanedBefore.size() == 1)
                if (const auto dirt = dirtOf(face, *before)) {
                    auto& share = out[{dirt->kind, look.cleanedBefore.front().method}];
                    ++share.all;
                    share.fit += look.verdict->fit ? 1 : 0;
                }
            before = i;
        }
    }
    return out;
}

std::string bestCleaning(const JobState& state, face::DirtKind kind)
{
    std::vector<std::pair<std::string, CleaningShare>> ways;
    for (const auto& [of, share] : cleaningsByDirt(state))
        if (of.first == kind) ways.emplace_back(of.second, share);
    if (ways.empty()) return "No such face was cleaned in this job yet.";
    std::stable_sort(ways.begin(), ways.end(),
                     [](const auto& a, const auto& b) { return a.second.fit * b.second.all > b.second.fit * a.second.all; });
    constexpr std::size_t most = 3;
    std::vector<std::string> parts;
    for (const auto& [method, share] : ways)
        if (parts.size() < most) parts.push_back(fmt::format("{} ({} of {})", methodWords(method), share.fit, share.all));
    return fmt::format("Such faces that were fit after one cleaning here: {}.", fmt::join(parts, "; "));
}

}  // namespace clendo
