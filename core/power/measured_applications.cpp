#include "power/measured_applications.h"

#include <algorithm>

namespace clendo {
namespace {

constexpr Nanometre sameWindow{25};  // how far a source may be from the application's wavelength

const LossResult* resultNear(const LossReport& report, Nanometre wavelength)
{
    const LossResult* nearest = nullptr;
    for (const auto& result : report.results) {
        const double off = std::abs((result.wavelength - wavelength).value());
        if (off <= sameWindow.value() && (!nearest || off < std::abs((nearest->wavelength - wavelength).value()))) nearest = &result;
    }
    return nearest && nearest->worst && nearest->verdict != LossVerdict::NotValid ? nearest : nullptr;
}

}  // namespace

std::vector<ApplicationBudget> measuredApplications(const LossReport& report, const std::string& fibre, Metre length,
                                                    const std::vector<Application>& applications)
{
    using Limit = ApplicationBudget::Limit;
    std::vector<ApplicationBudget> out;
    const bool wholeLink = endConnectionsHeld(report.method) == 2;
    for (const auto& application : applications) {
        const ApplicationChannel* channel = application.on(fibre);
        if (!channel) continue;
        ApplicationBudget one{application.name, application.confidence, {}, {}, Limit::None};
        bool known = wholeLink && !channel->wavelengths.empty();
        for (const auto wavelength : channel->wavelengths) {
            const LossResult* result = resultNear(report, wavelength);
            if (!result) {
                known = false;
                continue;
            }
            const Decibel spare = channel->loss - *result->worst - result->uncertainty;
            if (!one.spare || spare < *one.spare) one.spare = spare;
            if (spare < Decibel(0)) one.limitedBy = Limit::Loss;
            const Decibel better = std::min(result->lossAb.value_or(*result->worst), result->lossBa.value_or(*result->worst));
            if (channel->leastLoss && better < *channel->leastLoss && one.limitedBy == Limit::None) {
                one.limitedBy = Limit::LeastLoss;
                one.spare = better - *channel->leastLoss;
            }
        }
        if (length > channel->length) one.limitedBy = Limit::Length;
        // a loss that is too large already is so with any connection more
        if (one.limitedBy == Limit::Loss || one.limitedBy == Limit::Length)
            one.carries = false;
        else if (known)
            one.carries = one.limitedBy == Limit::None;
        out.push_back(one);
    }
    return out;
}

}  // namespace clendo
