#pragma once
#include <optional>
#include <string_view>

#include "otdr/analysis.h"

namespace clendo::otdr {

/// What loses light at one place, by what it loses at two wavelengths: a bend loses more at the longer one, a splice or connection about the same.
enum class LossCause { Bend, Joint, Unclear };

struct TwoWavelengths {
    Decibel shorter, longer;  ///< losses of the place
    Decibel difference;       ///< longer less shorter
    Decibel uncertainty;      ///< one sigma of it
    LossCause cause = LossCause::Unclear;
};

/// Of two events at the same place, shot from the same end. Nothing where one has no loss, or the wavelengths are alike. Multimode bends hardly
/// differ: there the cause stays unclear. Single-mode as generally practised: a bend where the longer one loses 0.1 dB and half as much more.
std::optional<TwoWavelengths> compareWavelengths(const Event& a, Nanometre wavelengthA, const Event& b, Nanometre wavelengthB);

}  // namespace clendo::otdr
