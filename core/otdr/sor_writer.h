#pragma once
#include <string>

#include "otdr/trace.h"

namespace clendo::otdr {

/// The trace as an SR-4731 file of the version that it states (1, else 2): the inverse of readSor() up to the format's resolution. Spacing must be
/// even.
std::string writeSor(const Trace& trace);

}  // namespace clendo::otdr
