#include "record/journal/losses.h"

#include <algorithm>

namespace clendo {

std::vector<LossesNoted> lossesIn(std::span<const Entry> journal)
{
    std::vector<LossesNoted> out;
    for (const auto& e : journal)
        if (const auto* losses = std::get_if<LossesNoted>(&e.fact)) out.push_back(*losses);
    return out;
}

bool isNoted(std::span<const LossesNoted> losses, const LossesNoted::Gap& gap)
{
    return std::any_of(losses.begin(), losses.end(), [&](const LossesNoted& l) {
        return std::any_of(l.gaps.begin(), l.gaps.end(),
                           [&](const auto& g) { return g.device == gap.device && g.from <= gap.from && g.to >= gap.to; });
    });
}

bool isEvidenceNoted(std::span<const LossesNoted> losses, const std::string& evidence)
{
    return std::any_of(losses.begin(), losses.end(),
                       [&](const LossesNoted& l) { return std::find(l.evidence.begin(), l.evidence.end(), evidence) != l.evidence.end(); });
}

}  // namespace clendo
