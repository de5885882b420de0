#include "record/advice/right_fibre_advice.h"

#include <fmt/format.h>

#include <algorithm>

namespace clendo {

Advice rightFibreAdvice(const RightFibres& fibres, const Link& link)
{
    Advice r;
    const PolarityReport& report = fibres.report;
    const auto way = std::find_if(fibres.ways.seen.begin(), fibres.ways.seen.end(), [&](const LightWay& w) { return w.in == link.fibre; });
    const bool tried = way != fibres.ways.seen.end();
    r.actions = {{command::proveFibre, "It came out here"}, {command::lightElsewhere, "It came out elsewhere"}};
    r.actions.insert(tried ? r.actions.begin() : r.actions.end(), {command::nextStep, "Next step"});  // what was tried is usually done
    if (report.ok) {
        r.tone = Tone::Fit;
        r.headline = "Every fibre is where it belongs";
        const bool straight = fibres.ways.expected == Polarity::Straight;
        r.sentence =
            fmt::format("Light into each of the {} fibres {}at A came out {}.", report.proven, fibres.ways.unused.empty() ? "" : "that are used ",
                        straight ? "at the same number at B" : fmt::format("where the plan has it ({})", name(fibres.ways.expected)));
        return r;
    }
    if (!report.faults.empty()) {
        r.tone = Tone::Work;
        r.headline = report.faults.size() == 1 ? "Not where it belongs" : fmt::format("{} faults", report.faults.size());
        r.sentence = report.faults.front().message;
        for (auto fault = report.faults.begin() + 1; fault != report.faults.end(); ++fault) r.help.push_back(fault->message);
    } else {
        r.headline = report.proven == 0 ? "Prove the fibres" : fmt::format("{} of {} are right so far", report.proven, fibres.ways.fibres);
        r.sentence = fmt::format(
            "Send light into fibre {} at A and find it at B, where it belongs at fibre {}, by a tone or by power. Never look into a fibre.",
            link.fibre, belongsAt(link));
    }
    if (report.unseen > 0) r.help.push_back(fmt::format("Not tried yet: {} of {}.", report.unseen, fibres.ways.fibres));
    if (tried)
        r.help.push_back(way->out ? fmt::format("Fibre {} came out at {}.", link.fibre, *way->out)
                                  : fmt::format("Fibre {} came out nowhere.", link.fibre));
    return r;
}

}  // namespace clendo
