#pragma once
#include <filesystem>
#include <memory>

#include "instruments/light_bench.h"
#include "instruments/line_talk.h"
#include "result/result.h"

namespace clendo {

/// Instruments on lines; loaded when the first one is wanted.
struct Lines {
    /// With the drivers below this data folder.
    std::unique_ptr<LightBench> (*bench)(const std::filesystem::path& data) = nullptr;
    /// Something else on a line, lines ended by LF; null where the place can be none. To be started.
    std::unique_ptr<LineTalk> (*talk)(const QString& place) = nullptr;
};
Result<Lines> lines();

}  // namespace clendo
