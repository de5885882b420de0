#pragma once
#include <string_view>

#include "criteria/finding.h"

namespace clendo::face {

/// One sentence: what a finding of this look usually is, and what to do.
std::string_view meaningOf(Appearance appearance);

}  // namespace clendo::face
