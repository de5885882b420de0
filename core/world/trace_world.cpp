#include "world/trace_world.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace clendo::world {
namespace {

constexpr double startLevel = -9;  // dB: where the backscatter begins under the receiver's ceiling

/// What reflects: where, how much was lost up to it one way, and its reflectance.
struct Reflector {
    double at, lost, reflectance;
};

/// Light that goes to b, back to a, on to c and home arrives as if it came from b + c - a: what it lost on the way, and what three reflectors left.
struct Echo {
    double at, lost, reflectance;
};
std::vector<Echo> echoesOf(const std::vector<Reflector>& reflectors)
{
    std::vector<Echo> out;
    constexpr double eitherFirst = 3;  // dB: to b first, or to c first
    for (const auto& a : reflectors)
        for (const auto& b : reflectors)
            for (const auto& c : reflectors)
                if (a.at < b.at && b.at <= c.at)
                    out.push_back(
                        {b.at + c.at - a.at, b.lost + c.lost - a.lost, a.reflectance + b.reflectance + c.reflectance + (&b == &c ? 0 : eitherFirst)});
    return out;
}

}  // namespace

otdr::Trace shoot(const std::vector<Stretch>& line, const Shot& shot)
{
    otdr::Trace t;
    t.wavelength = shot.wavelength;
    t.pulse = shot.pulse;
    t.groupIndex = shot.groupIndex;
    t.backscatter = shot.backscatter;
    t.averages = 30000;
    const double pulse = t.pulseLength().value(), spacing = pulse / 8;
    const auto n = static_cast<std::size_t>(shot.range.value() / spacing);
    std::vector<double> power(n, 0), impulses(n, 0);
    // power of the light by distance, joints and fibre taken off twice (the trace's one-way dB)
    double at = 0, level = startLevel - shot.portLoss.value();
    std::vector<Reflector> reflectors{{0, shot.portLoss.value(), shot.port.value()}};
    const auto reflect = [&](double z, double lost, double reflectance) {
        const auto i = static_cast<std::size_t>(std::max(0.0, std::ceil(z / spacing - 1e-9)));
        if (i < n)
            impulses[i] += std::pow(10, (startLevel - lost) / 5) * std::pow(10, (reflectance - shot.backscatter.value()) / 10) / shot.pulse.value();
    };
    std::size_t i = 0;
    for (std::size_t k = 0; k < line.size(); ++k) {
        const double end = at + line[k].length.value();
        for (; i < n && double(i) * spacing < end; ++i)
            power[i] = std::pow(10, (level - line[k].attenuation.value() * (double(i) * spacing - at) / 1000) / 5);
        level -= line[k].attenuation.value() * line[k].length.value() / 1000;
        if (line[k].jointReflectance) {
            reflectors.push_back({end, startLevel - level, line[k].jointReflectance->value()});
            reflect(end, startLevel - level, line[k].jointReflectance->value());
        }
        level -= line[k].jointLoss.value();
        at = end;
    }
    reflect(0, 0, shot.port.value());
    for (const Echo& echo : echoesOf(reflectors)) reflect(echo.at, echo.lost, echo.reflectance);
    // a pulse of 8 samples smears both; the receiver follows with a time constant of a sixth of the pulse, and a little of what it saw stays for a
    // while
    std::vector<double> seen(n, 0);
    double window = 0, received = 0, kept = 0;
    constexpr double slowly = 1.0 / 96, share = 4e-4;
    for (std::size_t k = 0; k < n; ++k) {
        window += power[k] / 8;
        if (k >= 8) window -= power[k - 8] / 8;
        double reflected = 0;
        for (std::size_t b = 0; b < 8 && b <= k; ++b) reflected += impulses[k - b];
        received += (window + reflected - received) * 0.53;
        kept += (received - kept) * slowly;
        seen[k] = received + share * kept;
    }
    std::mt19937 random(shot.seed * 31 + 7);
    std::normal_distribution<double> noise(0, std::pow(10, (startLevel - shot.dynamicRange.value()) / 5));
    for (std::size_t k = 0; k < n; ++k) {
        const double p = seen[k] * (1 + 0.0006 * noise(random) / noise.stddev()) + noise(random);
        const double y = p > 0 ? 5 * std::log10(p) : -65;
        t.level.push_back(static_cast<float>(std::round(std::clamp(y, -65.0, 0.0) * 1000) / 1000));
        t.dark.push_back(p <= 0);
        t.distance.push_back(static_cast<float>(double(k) * spacing));
    }
    return t;
}

}  // namespace clendo::world
