#pragma once
#include <map>
#include <string>

#include "result/result.h"
#include "units/units.h"

namespace clendo::reel {

/// Attenuations as people write them, either figure first: "0.36 at 1310, 0.22 at 1550", "1310: 0,36; 1550: 0,22". By wavelength in nm. An Error
/// where the figures are no pairs of a wavelength and dB/km. Empty: none.
Result<std::map<int, DecibelPerKilometre>> attenuationsFromText(const std::string& text);
std::string textOf(const std::map<int, DecibelPerKilometre>& attenuations);

}  // namespace clendo::reel
