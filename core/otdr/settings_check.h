#pragma once
#include "otdr/trace.h"

namespace clendo::otdr {

/// Holds the settings of a shot against what can be: a wavelength, a backscatter coefficient, a group index, levels that stand upside down, a range
/// that the points do not have. What cannot be is replaced by what it most likely is, and said among the oddities of the trace; nothing is in
/// silence. `statedRange`: in metres, as the file has it; 0: not stated.
void checkSettings(Trace& trace, Metre statedRange);

}  // namespace clendo::otdr
