#include "record/rules/read_again.h"

#include <algorithm>
#include <cmath>

#include "record/state/last_reading.h"

namespace clendo {
namespace {

std::optional<Decibel> lossAt(const LossReport& report, Nanometre wavelength, Direction direction)
{
    for (const auto& result : report.results)
        if (result.wavelength == wavelength) return direction == Direction::AtoB ? result.lossAb : result.lossBa;
    return std::nullopt;
}

}  // namespace

std::vector<ReadAgain> readAgain(const JobState& state)
{
    std::vector<ReadAgain> out;
    for (const auto& [id, link] : state.linkStates)
        for (const auto& [entry, doubt] : link.doubted) {
            const auto it = std::find_if(link.readings.begin(), link.readings.end(), [&hash = entry](const auto& r) { return r.entry == hash; });
            if (it == link.readings.end() || lastReading(link, it->what.wavelength, it->what.direction) != &*it) continue;
            ReadAgain one{id, it->what.wavelength, it->what.direction, doubt.why};
            if (link.loss && doubt.loss)
                for (const auto& result : link.loss->results)
                    if (result.wavelength == one.wavelength && result.limit) one.margin = result.limit->total - *doubt.loss;
            out.push_back(one);
        }
    std::stable_sort(out.begin(), out.end(),
                     [](const ReadAgain& a, const ReadAgain& b) { return std::abs(a.margin.value()) < std::abs(b.margin.value()); });
    return out;
}

bool lacksReading(const JobState& state, const Link& link, Direction direction)
{
    if (!link.cable->carriesLight(link.fibre)) return false;
    const LinkState& of = state.state(link.id);
    for (const int nm : state.plan->wavelengthsFor(*link.cable))
        if (!of.loss || !lossAt(*of.loss, Nanometre(nm), direction)) return true;
    return false;
}

}  // namespace clendo
