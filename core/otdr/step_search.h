#pragma once
#include <optional>

#include "otdr/stretch.h"

namespace clendo::otdr {

/// The fibre between two reflections with the steps that are in it: looked for at all scales, then measured together; what does not stand out of the
/// whole of the trace's noise is left out again. Nothing where there is no clean fibre. Parameters as of Stretch::fit.
std::optional<Stretch> findSteps(const Signal& signal, std::size_t from, std::size_t to, const std::optional<Peak>& peak, const SlopePrior& prior);

}  // namespace clendo::otdr
