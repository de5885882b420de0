#include "otdr/shot_choice.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "otdr/trace.h"

namespace clendo::otdr {
namespace {

/// What an instrument of the usual kind reaches: backscatter over the noise at the front panel (SNR = 1), one way, after 30 s.
struct Reach {
    double pulse;                                    ///< ns
    double singleMode, multimode850, multimode1300;  ///< dB
};
constexpr std::array<Reach, 12> reaches{{{5, 8, 12, 11},
                                         {10, 10, 14, 13},
                                         {20, 12.5, 16, 15},
                                         {30, 14, 17, 16},
                                         {50, 16, 18.5, 18},
                                         {100, 18.5, 20.5, 20},
                                         {200, 21, 22.5, 22},
                                         {500, 24, 24, 24},
                                         {1000, 26.5, 24, 24},
                                         {2500, 29.5, 24, 24},
                                         {10000, 34, 24, 24},
                                         {20000, 36, 24, 24}}};
constexpr double forSplices = 7;      // dB over the noise at the end, so that a splice of 0.05 dB is seen there
constexpr double perDoubling = 0.75;  // dB that averaging twice as long gains

}  // namespace

ShotChoice chooseShot(Metre length, Decibel loss, Nanometre wavelength)
{
    const double nm = wavelength.value(), needed = loss.value() + forSplices;
    const auto reachOf = [&](const Reach& r) { return nm < 1000 ? r.multimode850 : nm < 1305 ? r.multimode1300 : r.singleMode; };
    const Reach* choice = &reaches.back();
    double seconds = 180;
    for (const auto& r : reaches) {
        // from 15 s to 3 minutes
        const double more = needed - reachOf(r), doublings = std::max(-1.0, more / perDoubling);
        if (30 * std::pow(2, doublings) > 180) continue;
        choice = &r;
        seconds = std::max(15.0, 30 * std::pow(2, doublings));
        break;
    }
    constexpr double index = 1.468, rangeShare = 1.3, deadEvents = 1.3, deadLosses = 3, receiver = 1;  // m that the fastest receiver needs
    const double pulse = speedOfLight * choice->pulse * 1e-9 / (2 * index);
    ShotChoice out;
    out.pulse = Nanosecond(choice->pulse);
    out.averaging = Second(std::ceil(seconds / 5) * 5);
    out.range = Metre(rangeShare * length.value());
    out.eventDeadZone = Metre(deadEvents * pulse + receiver);
    out.attenuationDeadZone = Metre(deadLosses * pulse + 3 * receiver);
    constexpr double launchPulses = 10, shortest = 50;
    out.leastLaunch = Metre(std::max(shortest, launchPulses * pulse));
    return out;
}

std::vector<std::string> notToldApart(const std::vector<NamedPlace>& places, const ShotChoice& choice)
{
    std::vector<std::string> out;
    for (std::size_t i = 1; i < places.size(); ++i) {
        const NamedPlace &a = places[i - 1], &b = places[i];
        const Metre apart = b.at - a.at;
        if (a.reflects && b.reflects && apart < choice.eventDeadZone)
            out.push_back(fmt::format("{} and {}, {:.0f} m apart, will look like one.", a.name, b.name, apart.value()));
        else if (apart < choice.attenuationDeadZone)
            out.push_back(fmt::format("{} and {}, {:.0f} m apart, will have one loss together.", a.name, b.name, apart.value()));
    }
    return out;
}

}  // namespace clendo::otdr
