#pragma once
#include <map>
#include <string>
#include <variant>

#include "units/units.h"

namespace clendo::world {

/// A light source: cold after it was switched on, drifting a little for ever after.
struct Source {
    std::map<double, DecibelMilliwatt> lights;  ///< what it gives when warm, by wavelength in nm
    Nanometre wavelength{1310};
    bool on = true;
    double toneHz = 0;  ///< 0: continuous
    Second warmUp{600};
    Decibel coldShift{0.4};  ///< by which it is too weak right after it was switched on
    Decibel wander{0.01};    ///< by which it goes up and down in half an hour
    Second onSince{-86400};  ///< by the world's clock
    Decibel launch{0};       ///< how its cord sits in it, against the nominal level
};

/// A power meter. Its error is its own, the noise is of every sample.
struct Meter {
    Nanometre wavelength{1310};
    bool watts = false;     ///< says watts, not dBm
    bool relative = false;  ///< says dB against what it was set to zero on
    DecibelMilliwatt zero{0};
    DecibelMilliwatt floor{-70}, overload{10};
    Decibel error{0}, noise{0.004};
    Decibel resolution{0.01};
};

/// A microscope with a wheel; what it looks at is said by `connect`.
struct Scope {
    std::string face{};  ///< empty: nothing is under it
    Micrometre focus{0};
};

struct Otdr {
    Nanometre wavelength{1310};
    Nanosecond pulse{30};
    Metre range{4000};
    Second averaging{10};
    Second ready{0};  ///< by the world's clock, when the shot that was begun is done
    bool shot = false;
    void begin(Second now)
    {
        ready = now + averaging;
        shot = true;
    }
};

struct Instrument {
    std::string name, serial;
    std::variant<Source, Meter, Scope, Otdr> unit;
    std::size_t port = 0;  ///< its face; unused by a scope
};
std::string kindOf(const Instrument& instrument);  ///< "source", "meter", "scope", "otdr"

}  // namespace clendo::world
