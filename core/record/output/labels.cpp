#include "record/output/labels.h"

#include <fmt/format.h>

#include "record/journal/time_text.h"
#include "record/rules/completeness.h"
#include "record/rules/reels.h"

namespace clendo {
namespace {

Label ofPort(const JobState& state, const Link& link, End end)
{
    Label out{link.port(end), {fmt::format("{}, {}, to {}", link.id, link.colour, link.port(end == End::A ? End::B : End::A))}, {}};
    const auto& signature = state.state(link.id).signature;
    const bool stands = signature && signature->stands;
    out.lines.push_back(stands ? fmt::format("{}; signed off {}", name(completeness(state, link).verdict()), timeText(signature->at).substr(0, 10))
                               : std::string("not signed off"));
    out.code = fmt::format("clendo:{}:{}", link.id, stands && !signature->what.record.empty() ? signature->what.record : "none");
    return out;
}

Label ofCord(const std::string& id, const KitItem& item)
{
    Label out{id, {}, fmt::format("clendo:cord {}:none", id)};
    std::string connectors;
    for (const auto& c : item.what.connectors) connectors += (connectors.empty() ? "" : ", ") + c;
    if (!connectors.empty()) out.lines.push_back(connectors);
    out.lines.push_back(item.what.serial.empty() ? std::string("test cord") : "serial number " + item.what.serial);
    return out;
}

Label ofReel(const std::string& name, const ReelState& reel, const ReelStanding& standing)
{
    Label out{"Reel " + name, {}, fmt::format("clendo:reel {}:{}", name, reel.decided ? reel.decided->entry.hex() : "none")};
    std::string what;
    if (reel.delivered) what = fmt::format("{} fibres {}, ", reel.delivered->what.delivery.fibres, reel.delivered->what.delivery.type);
    const auto& best = standing.report.length.best;
    out.lines.push_back(
        what + (best ? fmt::format("{:.0f} ± {:.0f} m", best->length.value(), 2 * best->uncertainty.value()) : std::string("length not known")));
    out.lines.push_back(standing.decided() ? fmt::format("{} {}", reel::decided(standing.verdict), timeText(reel.decided->at).substr(0, 10))
                                           : std::string("not decided"));
    return out;
}

}  // namespace

std::vector<Label> labelsOfReels(const JobState& state)
{
    std::vector<Label> out;
    for (const auto& [name, reel] : state.reels) out.push_back(ofReel(name, reel, standingOf(state, name)));
    return out;
}

std::vector<Label> labelsOf(const JobState& state, const CablePlan* cable)
{
    std::vector<Label> out;
    if (!cable) {
        for (const auto& [id, item] : state.kit)
            if (item.what.kind == "cord" && !item.what.gone) out.push_back(ofCord(id, item));
        return out;
    }
    for (const End end : {End::A, End::B})
        for (const auto& link : state.plan->links)
            if (link.cable == cable) out.push_back(ofPort(state, link, end));
    return out;
}

}  // namespace clendo
