#include "reel/cuts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace clendo::reel {
namespace {

constexpr Metre millimetre{1e-3};

tl::unexpected<Error> refuse(const std::string& words) { return failure(Error::Code::PlanInvalid, words); }

}  // namespace

Result<void> checked(const CuttingWish& wish)
{
    constexpr std::size_t most = 500;
    if (wish.runs.empty()) return refuse("There is no run to cut for. Name the runs and their lengths.");
    if (wish.runs.size() > most || wish.reels.size() > most)
        return refuse(fmt::format("More than {} reels or runs are too many for one plan.", most));
    const auto length = [](Metre m) { return std::isfinite(m.value()) && m.value() >= 0 && m.value() <= 1e6; };
    std::set<std::string> names;
    for (const auto& reel : wish.reels) {
        if (!length(reel.length)) return refuse(fmt::format("The length of reel {} cannot be.", reel.reel));
        if (!names.insert(reel.reel).second) return refuse(fmt::format("The reel {} is there twice.", reel.reel));
    }
    names.clear();
    for (const auto& run : wish.runs) {
        if (!length(run.length) || !length(run.slack) || run.needed() <= Metre(0))
            return refuse(fmt::format("The length of run {} cannot be.", run.name));
        if (!names.insert(run.name).second) return refuse(fmt::format("The run {} is there twice.", run.name));
    }
    return length(wish.keepLeast) ? Result<void>() : refuse("The least length that is kept cannot be.");
}

Result<CuttingPlan> weigh(const CuttingWish& wish, const std::vector<ReelCuts>& cuts)
{
    CuttingPlan out;
    std::map<std::string, Metre> served;
    std::map<std::string, int> pieces;
    for (const auto& run : wish.runs) served[run.name] = Metre(0);
    std::set<std::string> opened;
    for (const auto& chosen : cuts) {
        if (chosen.cuts.empty()) continue;
        const auto stock = std::find_if(wish.reels.begin(), wish.reels.end(), [&](const Stock& s) { return s.reel == chosen.reel; });
        if (stock == wish.reels.end()) return refuse(fmt::format("There is no reel {} to cut from.", chosen.reel));
        if (!opened.insert(chosen.reel).second) return refuse(fmt::format("The reel {} is there twice.", chosen.reel));
        ReelCuts reel{chosen.reel, chosen.cuts, stock->length};
        for (const Cut& cut : chosen.cuts) {
            if (!served.contains(cut.run)) return refuse(fmt::format("There is no run {} to cut for.", cut.run));
            if (!std::isfinite(cut.length.value()) || cut.length < millimetre) return refuse(fmt::format("A cut for {} has no length.", cut.run));
            reel.left = reel.left - cut.length;
            served[cut.run] += cut.length;
            ++pieces[cut.run];
        }
        if (reel.left < -millimetre)
            return refuse(fmt::format("Reel {} is {:.1f} m too short for what is cut from it.", chosen.reel, -reel.left.value()));
        if (reel.left < millimetre) reel.left = Metre(0);
        if (reel.left < wish.keepLeast) out.waste += reel.left;
        out.reels.push_back(std::move(reel));
    }
    for (const auto& run : wish.runs) {
        const Metre lacks = run.needed() - served[run.name];
        if (lacks < -millimetre) return refuse(fmt::format("{:.1f} m more are cut for {} than it needs.", -lacks.value(), run.name));
        int parts = pieces[run.name];
        if (lacks > millimetre) {
            out.unserved.push_back(run.name);
            out.shortOf += lacks;
            ++parts;
        }
        out.joints += std::max(0, parts - 1);
    }
    return out;
}

}  // namespace clendo::reel
