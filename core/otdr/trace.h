#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "units/units.h"

namespace clendo::otdr {

/// An event as stored in a file by the instrument.
struct StoredEvent {
    int number = 0;
    Metre at;  ///< from the front panel
    DecibelPerKilometre leadIn;
    Decibel loss;
    std::optional<Decibel> reflectance;
    std::string code;  ///< six characters, see SR-4731
};

/// One shot: levels at equal or piecewise equal spacing, distance from the front panel.
struct Trace {
    int version = 2;  ///< of the file: 1 or 2
    std::string cable, fibre, locationA, locationB, instrument, serial, operatorName, comment;
    std::int64_t takenAt = 0;  ///< seconds since 1970-01-01 UTC
    Nanometre wavelength;
    Nanosecond pulse;
    double groupIndex = 1.468;
    Decibel backscatter;  ///< of a 1 ns pulse, negative
    std::uint32_t averages = 0;
    std::optional<bool> checksumOk;
    std::vector<float> distance;  ///< m, rising
    std::vector<float> level;     ///< one-way dB, 0 is the receiver's ceiling, negative below
    std::vector<bool> dark;       ///< no light was seen at this point
    std::vector<StoredEvent> stored;
    std::vector<std::string> oddities;  ///< what was not as it should be, in sentences

    [[nodiscard]] Metre spacing() const;
    /// Length of the pulse on the trace: c pulse / (2 n).
    [[nodiscard]] Metre pulseLength() const;
};

constexpr double speedOfLight = 299'792'458.0;  // m/s, exact

}  // namespace clendo::otdr
