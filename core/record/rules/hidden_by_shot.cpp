#include "record/rules/hidden_by_shot.h"

#include <algorithm>

#include "otdr/usual_fibre.h"

namespace clendo {

std::optional<otdr::ShotChoice> advisedShot(const JobState& state, const Link& link)
{
    const CablePlan& cable = *link.cable;
    const JobSettings& job = state.plan->job;
    const auto wavelengths = state.plan->wavelengthsFor(cable);
    const LimitSet* limits = state.plan->limitsFor(cable);
    if (wavelengths.empty() || !limits) return std::nullopt;
    // the wavelength that loses most needs the most light
    const Nanometre first{double(wavelengths.front())};
    const Metre whole = cable.length + job.launchCord + job.tailCord;
    const Decibel joints = double(cable.splices.size()) * limits->splice + double(cable.inner.size() + 2) * limits->connection;
    return otdr::chooseShot(whole, joints + whole * otdr::usualFibre(first).attenuation, first);
}

std::vector<HiddenLength> hiddenByShot(const Link& link, const otdr::ShotChoice& choice)
{
    const CablePlan& cable = *link.cable;
    std::vector<HiddenLength> out;
    const auto behind = [&](Connection at, Metre place) {
        if (place < cable.length) out.push_back({place, std::min(cable.length, place + choice.attenuationDeadZone), link.port(at)});
    };
    behind(End::A, Metre(0));
    for (std::size_t n = 0; n < cable.inner.size(); ++n) behind(Connection::inner(static_cast<int>(n) + 1), cable.inner[n].at);
    std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.from < b.from; });
    return out;
}

}  // namespace clendo
