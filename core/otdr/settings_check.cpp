#include "otdr/settings_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "otdr/usual_fibre.h"

namespace clendo::otdr {
namespace {

bool lightOfFibre(double nm) { return nm >= 600 && nm <= 1700; }

void checkWavelength(Trace& t)
{
    const double stated = t.wavelength.value();
    if (lightOfFibre(stated)) return;
    const double likely = lightOfFibre(stated / 10) ? stated / 10 : lightOfFibre(stated * 10) ? stated * 10 : 0;
    if (likely > 0)
        t.oddities.push_back(fmt::format("The file states a wavelength of {:.0f} nm; {:.0f} nm was taken.", stated, likely));
    else
        t.oddities.push_back(fmt::format("The file states a wavelength of {:.0f} nm, which cannot be: nothing is known of the wavelength.", stated));
    if (likely > 0) t.wavelength = Nanometre(likely);
}

void checkBackscatter(Trace& t)
{
    constexpr double weakest = -95, strongest = -55;  // dB for 1 ns, of any fibre
    const double stated = t.backscatter.value();
    if (stated >= weakest && stated <= strongest) return;
    const double tenth = stated / 10;
    const double likely = tenth >= weakest && tenth <= strongest ? tenth : usualFibre(t.wavelength).backscatter.value();
    t.oddities.push_back(fmt::format(
        "The file states a backscatter coefficient of {:.1f} dB; {:.1f} dB was taken, and every reflectance rests on it.", stated, likely));
    t.backscatter = Decibel(likely);
}

void checkIndex(Trace& t)
{
    constexpr double least = 1.43, most = 1.52, usual = 1.468;  // of fibres of silica
    if (t.groupIndex >= least && t.groupIndex <= most) return;
    t.oddities.push_back(
        fmt::format("The file states a group index of {:.4f}; fibres have about {:.3f}. If that is wrong, every distance is {:.1f} % too {}.",
                    t.groupIndex, usual, 100 * std::abs(usual / t.groupIndex - 1), t.groupIndex < usual ? "long" : "short"));
}

void checkPulse(Trace& t)
{
    constexpr double longest = 100'000;  // ns
    if (t.pulse > Nanosecond(0) && t.pulse.value() <= longest) return;
    // as long as some points lie apart
    constexpr double points = 4;
    const double likely = std::max(1.0, points * t.spacing().value() * 2 * t.groupIndex / speedOfLight * 1e9);
    t.oddities.push_back(
        fmt::format("The file states a pulse of {:.0f} ns; {:.0f} ns was taken, by the spacing of the points.", t.pulse.value(), likely));
    t.pulse = Nanosecond(likely);
}

/// Light gets less along a fibre, and behind it there is only noise.
void checkLevels(Trace& t)
{
    const std::size_t n = t.level.size(), part = n / 10;
    if (part < 16) return;
    const auto middleOf = [&](std::size_t from) {
        std::vector<float> v(t.level.begin() + static_cast<std::ptrdiff_t>(from), t.level.begin() + static_cast<std::ptrdiff_t>(from + part));
        std::nth_element(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(part / 2), v.end());
        return double(v[part / 2]);
    };
    constexpr double clearly = 3;  // dB
    if (middleOf(n - part) - middleOf(part / 2) < clearly) return;
    const float high = *std::max_element(t.level.begin(), t.level.end()), low = *std::min_element(t.level.begin(), t.level.end());
    for (auto& level : t.level) level = low + high - level;
    t.dark.assign(n, false);
    t.oddities.emplace_back("The levels rise along the fibre, so they are stored upside down; they were turned round.");
}

void checkRange(Trace& t, double stated)
{
    const double reach = t.distance.empty() ? 0 : double(t.distance.back()) - double(t.distance.front());
    if (stated <= 0 || reach <= 0 || (stated > 0.45 * reach && stated < 2.2 * reach)) return;
    t.oddities.push_back(
        fmt::format("The file states a range of {:.0f} m, its points reach over {:.0f} m: one of both is wrong, and with it maybe every distance.",
                    stated, reach));
}

}  // namespace

void checkSettings(Trace& trace, Metre statedRange)
{
    checkWavelength(trace);
    checkBackscatter(trace);
    checkIndex(trace);
    checkPulse(trace);
    checkLevels(trace);
    checkRange(trace, statedRange.value());
}

}  // namespace clendo::otdr
