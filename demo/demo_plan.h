#pragma once
#include <cstdint>
#include <vector>

#include "record/facts/facts.h"

namespace clendo {

/// Cable VP-04: 12 fibres outdoors, Tide Hall to Breakwater Hut.
CablePlan varrowCable();
/// Cable VP-11: a trunk of 12 fibres in one ferrule, Tide Hall to Glass Lab.
CablePlan varrowTrunk();
/// The face behind the panel of a fibre of VP-04, as the world names it.
std::string portOf(int fibre, End end);
/// A stricter rule of the house beside the standard's: nothing over 2 um on a single-mode cladding, nothing from 3 um where ferrules touch.
Result<Fact> houseRule();
/// What technician 1 carries: one pen nearly used up, one meter whose calibration ends soon. `now`: seconds since 1970-01-01 UTC.
std::vector<Fact> demoKit(std::int64_t now);

}  // namespace clendo
