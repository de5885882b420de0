#pragma once
#include <cstdint>
#include <optional>
#include <vector>

#include "otdr/trace.h"

namespace clendo::world {

/// Fibre and joints in the order that the light meets them; a joint stands behind its section.
struct Stretch {
    Metre length;
    DecibelPerKilometre attenuation{0.35};
    Decibel jointLoss{0};
    std::optional<Decibel> jointReflectance;  ///< nothing: none
};

struct Shot {
    Nanometre wavelength{1310};
    Nanosecond pulse{30};
    Metre range{4000};
    double groupIndex = 1.4677;
    Decibel backscatter{-79.5};
    Decibel dynamicRange{22};        ///< one-way, backscatter at the start over the noise
    Decibel port{-46}, portLoss{0};  ///< of the instrument's own connector
    std::uint32_t seed = 1;
};

/// The trace that an OTDR would take of the stretches: backscatter, reflections and their echoes, a receiver of limited speed that is slow to forget
/// strong light, noise.
/// The last joint is the open end. `expected` sharp to about a pulse.
otdr::Trace shoot(const std::vector<Stretch>& line, const Shot& shot);

}  // namespace clendo::world
