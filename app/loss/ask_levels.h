#pragma once
#include <QString>
#include <optional>
#include <utility>
#include <vector>

#include "app/frame/window_frame.h"
#include "units/units.h"

namespace clendo {

/// What the meter shows at each wavelength of the chosen cable, typed one after the other; nothing where it was left.
std::optional<std::vector<std::pair<Nanometre, DecibelMilliwatt>>> askLevels(WindowFrame& frame, const QString& title);

}  // namespace clendo
