#include "record/advice/right_fibre_advice.h"

#include <fmt/format.h>

#include "record/rules/right_fibre.h"

namespace clendo {

Advice rightFibreAdvice(const JobState& state, const Link& link)
{
    Advice r;
    const PolarityReport report = rightFibres(state, *link.cable);
    const auto& seen = state.state(link.id).lightSeen;
    r.actions = {{command::proveFibre, "It came out here"}, {command::lightElsewhere, "It came out elsewhere"}, {command::nextStep, "Next step"}};
    if (report.ok) {
        r.tone = Tone::Fit;
        r.headline = "Every fibre is where it belongs";
        r.sentence = fmt::format("Light into each of the {} fibres at A came out at the same number at B.", link.cable->fibres);
        r.actions = {{command::nextStep, "Next step"}, {command::lightElsewhere, "It came out elsewhere"}};
        return r;
    }
    if (!report.faults.empty()) {
        r.tone = Tone::Work;
        r.headline = report.faults.size() == 1 ? "Not where it belongs" : fmt::format("{} faults", report.faults.size());
        for (std::size_t i = 0; i < report.faults.size(); ++i)
            if (i == 0)
                r.sentence = report.faults[i].message;
            else
                r.help.push_back(report.faults[i].message);
    } else {
        r.headline = report.proven == 0 ? "Prove the fibres" : fmt::format("{} of {} are right so far", report.proven, link.cable->fibres);
        r.sentence = fmt::format("Send light into fibre {} at A and find it at B, by a tone or by power. Never look into a fibre.", link.fibre);
    }
    if (seen)  // tried already: what is usual is to go on
        r.actions = {{command::nextStep, "Next step"}, {command::proveFibre, "It came out here"}, {command::lightElsewhere, "It came out elsewhere"}};
    if (report.unseen > 0) r.help.push_back(fmt::format("Not tried yet: {} of {}.", report.unseen, link.cable->fibres));
    if (seen)
        r.help.push_back(seen->what.out ? fmt::format("Fibre {} came out at {}.", link.fibre, *seen->what.out)
                                        : fmt::format("Fibre {} came out nowhere.", link.fibre));
    return r;
}

}  // namespace clendo
