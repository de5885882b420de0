#pragma once
#include <string>
#include <vector>

#include "units/units.h"

namespace clendo::otdr {

/// Settings for a shot, and what they give up.
struct ShotChoice {
    Nanosecond pulse;
    Second averaging;
    Metre range;
    Metre eventDeadZone;        ///< two reflections nearer than this are one
    Metre attenuationDeadZone;  ///< behind a reflection; a joint nearer than this to it has no loss of its own
    Metre leastLaunch;          ///< length that a launch cord needs, so that the first connection can be measured
};

/// The shortest pulse with which a line of this length and loss is seen to its end, as OTDRs of the usual dynamic range allow, and the time that
/// averages its noise away. `length`: of everything, cords included; `loss`: one way, all of it.
ShotChoice chooseShot(Metre length, Decibel loss, Nanometre wavelength);

/// What cannot be told apart with it: for each pair of neighbours (by place, names beside) that lie nearer than the dead zone. In words.
struct NamedPlace {
    std::string name;
    Metre at;
    bool reflects = false;
};
std::vector<std::string> notToldApart(const std::vector<NamedPlace>& places, const ShotChoice& choice);

}  // namespace clendo::otdr
