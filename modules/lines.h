#pragma once
#include <filesystem>
#include <memory>

#include "instruments/light_bench.h"
#include "result/result.h"

namespace clendo {

/// Instruments on lines; loaded when the first one is wanted.
struct Lines {
    /// With the drivers below this data folder.
    std::unique_ptr<LightBench> (*bench)(const std::filesystem::path& data) = nullptr;
};
Result<Lines> lines();

}  // namespace clendo
