#include "record/rules/patch_cords.h"

#include <fmt/format.h>

#include "power/loss_verdict.h"

namespace clendo {

std::vector<CordLossRow> cordLosses(const JobState& state, const std::string& cord, const CablePlan& fibre)
{
    std::vector<CordLossRow> out;
    const auto known = state.patchCords.find(cord);
    const LimitSet* limits = state.plan->limitsFor(fibre);
    if (known == state.patchCords.end() || !limits) return out;
    std::map<std::pair<std::string, double>, const CordLoss*> last;
    for (const auto& read : known->second) last[{read.end, read.wavelength.value()}] = &read;
    for (const auto& [key, read] : last) {
        CordLossRow row{read->end, read->wavelength, read->loss, {}, {}, "not valid", std::string(name(read->method))};
        // whoever reads one connector has the far one in the meter; whoever reads both has one more pair than the reference had
        const bool fits = read->end.empty() ? read->method == ReferenceMethod::TwoCord
                                            : read->method == ReferenceMethod::SingleEnded || read->method == ReferenceMethod::OneCord;
        row.limit = read->end.empty() ? limits->endConnection * 2 - limits->referencePair : limits->endConnection;
        LossConditions conditions{read->end.empty() ? ReferenceMethod::TwoCord : ReferenceMethod::SingleEnded, isMultimode(fibre), {}, {}, {}};
        row.uncertainty = expanded(contributions(conditions, *limits), *limits);
        if (read->loss && fits) row.verdict = name(judgeLoss(*read->loss, *read->loss, row.limit, row.uncertainty));
        out.push_back(std::move(row));
    }
    return out;
}

std::string cordLossWords(const std::string& cord, const std::vector<CordLossRow>& rows)
{
    std::string out;
    for (const auto& row : rows)
        out += fmt::format(
            "{}{}: {} at {:.0f} nm ({})", out.empty() ? "" : "; ", row.end.empty() ? cord + ", both connectors" : cordWords(cord, row.end),
            row.loss ? fmt::format("{:.2f} dB", row.loss->value()) : std::string("no good reference"), row.wavelength.value(), row.verdict);
    return out;
}

}  // namespace clendo
