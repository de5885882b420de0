#include "instruments/line/bench_on_lines.h"
#include "modules/lines.h"

extern "C" __attribute__((visibility("default"))) void clendo_lines(clendo::Lines* lines)
{
    lines->bench = [](const std::filesystem::path& data) -> std::unique_ptr<clendo::LightBench> {
        return std::make_unique<clendo::BenchOnLines>(data);
    };
}
