#pragma once
#include <cstddef>

#include "otdr/signal.h"
#include "otdr/stretch.h"

namespace clendo::otdr {

/// Reads reflections: how high they are, and whether the receiver was at its ceiling.
class Peaks {
public:
    Peaks(const Trace& trace, const Signal& signal);
    /// Flat top: samples in a row that are quite alike, or the ceiling of the whole trace. Stages of gain have lower ceilings of their own.
    [[nodiscard]] bool saturated(std::size_t from, std::size_t to) const;
    /// Height of what begins at `start` over `level` (dB): the highest part of its plateau, so long that noise does not make it.
    [[nodiscard]] double height(std::size_t start, std::size_t stop, double level) const;
    /// The reflection that begins at `start`, over the fibre behind it from point `behind` on.
    [[nodiscard]] Peak over(std::size_t start, std::size_t behind) const;
    /// Up to where its top may be.
    [[nodiscard]] std::size_t topEnd(std::size_t start) const { return start + 2 * s_.pulseSamples() + 6; }

private:
    static constexpr float same = 1e-6F;  // dB
    const Trace& trace_;
    const Signal& s_;
    float ceiling_ = 0;
    bool shared_ = false;  ///< light stands at the highest level in more than one place: it is the receiver's ceiling
};

}  // namespace clendo::otdr
