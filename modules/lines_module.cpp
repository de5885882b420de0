#include "instruments/line/bench_on_lines.h"
#include "modules/lines.h"

extern "C" __attribute__((visibility("default"))) void clendo_lines(clendo::Lines* lines)
{
    lines->bench = [](const std::filesystem::path& data) -> std::unique_ptr<clendo::LightBench> {
        return std::make_unique<clendo::BenchOnLines>(data);
    };
    lines->talk = [](const QString& place) -> std::unique_ptr<clendo::LineTalk> {
        constexpr int baud = 9600, patienceMs = 5000;
        auto line = clendo::makeLine(place, baud);
        return line ? std::make_unique<clendo::ScpiClient>(std::move(line), "\n", patienceMs) : nullptr;
    };
}
