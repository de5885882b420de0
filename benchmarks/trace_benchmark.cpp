#include <benchmark/benchmark.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

#include "otdr/analysis.h"
#include "otdr/sor_reader.h"
#include "otdr/sor_writer.h"
#include "world/trace_world.h"

using namespace clendo;

namespace {

const std::string& file()
{
    static const std::string bytes = otdr::writeSor(world::shoot({{Metre(150), DecibelPerKilometre(0.35), Decibel(0.3), Decibel(-50)},
                                                                  {Metre(1180), DecibelPerKilometre(0.35), Decibel(0.1), {}},
                                                                  {Metre(1220), DecibelPerKilometre(0.35), Decibel(0.3), Decibel(-45)},
                                                                  {Metre(150), DecibelPerKilometre(0.35), Decibel(30), Decibel(-15)}},
                                                                 {}));
    return bytes;
}

void readTrace(benchmark::State& state)
{
    for (auto _ : state) benchmark::DoNotOptimize(otdr::readSor(file(), "t"));
}
BENCHMARK(readTrace)->Unit(benchmark::kMillisecond);

void analyseTrace(benchmark::State& state)
{
    const auto trace = otdr::readSor(file(), "t").value();
    for (auto _ : state) benchmark::DoNotOptimize(otdr::analyse(trace, {Metre(150), Metre(150)}));
}
BENCHMARK(analyseTrace)->Unit(benchmark::kMillisecond);

constexpr std::size_t manyPoints = 128'000;

/// 64 km under 100 ns: a splice every 4 km, a connector every 20, noise that reaches the light at the end.
const otdr::Trace& longTrace()
{
    static const otdr::Trace trace = [] {
        otdr::Trace t;
        t.wavelength = Nanometre(1550);
        t.pulse = Nanosecond(100);
        t.backscatter = Decibel(-81.5);
        std::mt19937 random(7);
        std::normal_distribution<double> normal(0, 1e-6);
        constexpr double spacing = 0.5, start = -8, perMetre = 0.0002, splice = 0.06, every = 4000, connectorEvery = 20000, pulse = 10;
        for (std::size_t i = 0; i < manyPoints; ++i) {
            const double z = double(i) * spacing, intoLast = std::fmod(z, every), ramp = std::min(1.0, intoLast / pulse);
            double p = std::pow(10, (start - perMetre * z - splice * (std::floor(z / every) + (z > every ? ramp - 1 : 0))) / 5);
            if (std::fmod(z, connectorEvery) < pulse) p += 30 * p;
            if (z > 63000) p = 0;
            t.distance.push_back(static_cast<float>(z));
            p += normal(random);
            t.dark.push_back(p <= 1e-9);
            t.level.push_back(static_cast<float>(p <= 1e-9 ? -45 : 5 * std::log10(p)));
        }
        return t;
    }();
    return trace;
}

/// What a reader of 128,000 points does at least: one straight line in closed form through all of them, one exact running median of 31.
void floorOf128k(benchmark::State& state)
{
    const auto& t = longTrace();
    std::vector<float> median(t.level.size());
    for (auto _ : state) {
        double sz = 0, sy = 0, szz = 0, szy = 0;
        for (std::size_t i = 0; i < t.level.size(); ++i) {
            const double z = double(t.distance[i]), y = double(t.level[i]);
            sz += z;
            sy += y;
            szz += z * z;
            szy += z * y;
        }
        const double n = double(t.level.size()), slope = (n * szy - sz * sy) / (n * szz - sz * sz);
        benchmark::DoNotOptimize(slope);
        std::array<float, 31> window{};
        for (std::size_t i = 15; i + 15 < t.level.size(); ++i) {
            std::copy_n(t.level.begin() + static_cast<std::ptrdiff_t>(i - 15), window.size(), window.begin());
            std::nth_element(window.begin(), window.begin() + 15, window.end());
            median[i] = window[15];
        }
        benchmark::DoNotOptimize(median.data());
    }
}
BENCHMARK(floorOf128k)->Unit(benchmark::kMillisecond);

void analyse128k(benchmark::State& state)
{
    const auto& t = longTrace();
    for (auto _ : state) {
        const auto found = otdr::analyse(t, {});
        if (found.events.size() < 12) return state.SkipWithError("too little was found");
        benchmark::DoNotOptimize(found);
    }
}
BENCHMARK(analyse128k)->Unit(benchmark::kMillisecond);

}  // namespace
