#include "record/rules/read_again.h"

#include <algorithm>
#include <cmath>

namespace clendo {
namespace {

/// The last reading at a wavelength in a direction, which is the one that counts.
const Filed<PowerRead>* lastReading(const LinkState& link, Nanometre wavelength, Direction direction)
{
    const auto it = std::find_if(link.readings.rbegin(), link.readings.rend(),
                                 [&](const auto& r) { return r.what.wavelength == wavelength && r.what.direction == direction; });
    return it == link.readings.rend() ? nullptr : &*it;
}

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
        for (const auto& [entry, why] : link.doubted) {
            const auto it = std::find_if(link.readings.begin(), link.readings.end(), [&hash = entry](const auto& r) { return r.entry == hash; });
            if (it == link.readings.end() || lastReading(link, it->what.wavelength, it->what.direction) != &*it) continue;
            ReadAgain one{id, it->what.wavelength, it->what.direction, why};
            if (link.loss)
                for (const auto& result : link.loss->results)
                    if (result.wavelength == one.wavelength && result.limit && (it->what.shown || it->what.reference)) {
                        // the level of the reference is known, though it does not hold: near enough to say which fibres matter
                        const auto level = state.levelsOfReferences.find(it->what.reference);
                        const auto loss = it->what.shown                            ? it->what.shown
                                          : level != state.levelsOfReferences.end() ? std::optional(level->second - it->what.power)
                                                                                    : std::nullopt;
                        if (loss) one.margin = result.limit->total - *loss;
                    }
            out.push_back(one);
        }
    std::stable_sort(out.begin(), out.end(),
                     [](const ReadAgain& a, const ReadAgain& b) { return std::abs(a.margin.value()) < std::abs(b.margin.value()); });
    return out;
}

bool lacksReading(const JobState& state, const Link& link, Direction direction)
{
    const LinkState& of = state.state(link.id);
    for (const int nm : state.plan->wavelengthsFor(*link.cable))
        if (!of.loss || !lossAt(*of.loss, Nanometre(nm), direction)) return true;
    return false;
}

}  // namespace clendo
