#include "record/output/learning.h"

#include <fmt/format.h>

#include <algorithm>

#include "cleaning/kit_kinds.h"
#include "face/judge/compare_looks.h"
#include "record/output/cleanings_by_dirt.h"
#include "record/state/ferrule.h"

namespace clendo {
namespace {

constexpr std::size_t mostPorts = 8;

class Counting {
public:
    void count(const std::string& of, bool right)
    {
        auto& share = shares_[of];
        share.of = of;
        ++share.all;
        share.right += right ? 1 : 0;
    }
    /// The worst share first; of equals the one with more behind it.
    [[nodiscard]] std::vector<Share> worstFirst() const
    {
        std::vector<Share> out;
        for (const auto& [of, share] : shares_) out.push_back(share);
        std::stable_sort(out.begin(), out.end(), [](const Share& a, const Share& b) {
            const double shareA = double(a.right) / a.all, shareB = double(b.right) / b.all;
            return shareA != shareB ? shareA < shareB : a.all > b.all;
        });
        return out;
    }

private:
    std::map<std::string, Share> shares_;
};

/// What the cleanings before a look did to the findings of the look before.
void countGone(Counting& gone, const Look& before, const Look& after)
{
    if (after.cleanedBefore.size() != 1) return;  // of two cleanings nobody knows which did it
    const auto compared = face::compareLooks(before.seen.measured.findings, after.seen.measured.findings);
    for (const auto& f : before.seen.measured.findings) {
        if (f.kind == FindingKind::Scratch) continue;
        const auto fate = std::find_if(compared.fates.begin(), compared.fates.end(), [&](const auto& x) { return x.before == f.id; });
        if (fate == compared.fates.end()) continue;
        gone.count(fmt::format("{} on {}", methodWords(after.cleanedBefore.front().method), name(f.appearance)), fate->fate == face::Fate::Gone);
    }
}

/// Of a face that is no link's: a golden face is looked at, not tested with.
bool isTestCord(const JobState& state, const std::string& id)
{
    const auto item = state.kit.find(id);
    return item == state.kit.end() || item->second.what.kind != goldenKind;
}

}  // namespace

Learned learn(const JobState& state)
{
    Learned out;
    out.firstTimeFit.of = "all faces";
    Counting connector, place, side, cord, method, tool, gone;
    std::vector<Share> ports;
    for (const auto& [id, face] : state.faces) {
        const Link* link = state.link(id.link);
        const Look *first = nullptr, *before = nullptr;
        bool cleanedYet = false;
        for (const auto& look : face.looks) {
            if (!look.verdict) continue;
            if (!first) first = &look;
            if (!link && isTestCord(state, id.link)) cord.count(id.link, look.verdict->fit);
            if (!look.cleanedBefore.empty() && !cleanedYet) {
                cleanedYet = true;
                const auto& cleaning = look.cleanedBefore.front();
                const bool atOnce = look.verdict->fit && look.cleanedBefore.size() == 1;
                method.count(methodWords(cleaning.method), atOnce);
                if (!cleaning.tool.empty()) tool.count(cleaning.tool, atOnce);
            }
            if (before) countGone(gone, *before, look);
            before = &look;
        }
        if (!link || !first) continue;
        const bool fit = first->verdict->fit && first->cleanedBefore.empty();
        out.firstTimeFit.all += 1;
        out.firstTimeFit.right += fit ? 1 : 0;
        connector.count(link->cable->connectorAt(id.connection), fit);
        place.count(link->place(id.connection), fit);
        side.count(id.side == Side::Cord ? "cord ends" : "ports", fit);
        if (face.cleanings > 1 || face.condition == FaceCondition::Damaged)
            ports.push_back({link->where(id), face.condition == FaceCondition::Fit ? 1 : 0, face.cleanings});
    }
    out.byConnector = connector.worstFirst();
    out.byPlace = place.worstFirst();
    out.bySide = side.worstFirst();
    out.byCord = cord.worstFirst();
    out.byMethod = method.worstFirst();
    out.byTool = tool.worstFirst();
    out.goneByMethod = gone.worstFirst();
    for (const auto& [of, share] : cleaningsByDirt(state))
        out.byDirt.push_back({fmt::format("{} on {}", methodWords(of.second), face::name(of.first)), share.fit, share.all});
    std::stable_sort(ports.begin(), ports.end(), [](const Share& a, const Share& b) { return a.all > b.all; });
    if (ports.size() > mostPorts) ports.resize(mostPorts);
    out.troublePorts = std::move(ports);
    for (const auto& [id, item] : state.kit)
        if (item.what.most > 0 && !item.what.gone) out.used.push_back(item);
    std::stable_sort(out.used.begin(), out.used.end(),
                     [](const KitItem& a, const KitItem& b) { return double(a.used) / a.what.most > double(b.used) / b.what.most; });
    return out;
}

}  // namespace clendo
