#include <benchmark/benchmark.h>

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

}  // namespace
