#pragma once
#include <optional>
#include <vector>

#include "criteria/finding.h"
#include "files/rule_files.h"
#include "result/result.h"

namespace clendo::face {

/// How the light is spread over the face.
struct LightSpot {
    enum class Shape {
        Gaussian,  ///< single-mode: intensity falls to 1/e² at the mode field's radius
        Parabolic  ///< multimode under a conditioned launch: power density 1 - (r/a)² over the core
    };
    Shape shape = Shape::Gaussian;
    Micrometre diameter{9.2};  ///< mode field or core
};

/// From data/fibres; an Error where the file is missing or knows neither this core nor the wavelength.
Result<LightSpot> loadLightSpot(CoreKind core, Nanometre wavelength, const RuleFiles& rules);

/// What would be added if this face were mated now, as a range: from things that let through what they let through in the picture, to the worst that
/// they can do. Only what lies in the way of the light; a gap between the faces comes on top and no picture shows it.
struct ExpectedLoss {
    Decibel least, most;
    double blockedShare = 0;  ///< of the light's power
};

/// Overlap of the light with what lies on the face. Gaussian: the field that is left couples into the mode again, so opaque things lose -20 lg(1 -
/// b); what lets light through can turn its phase by half a wave and lose -20 lg(1 - 2b) while b < 0.5, and all of it from there on: that is the
/// worst. Multimode: -10 lg(1 - b). b is the blocked share. Things are taken by their outline; where none is kept, defects as discs of their area and
/// scratches as bars at their distance. A fibre off its hole's centre by d adds 4.34 d²/w², w the mode field's radius (overlap of two Gaussians:
/// Marcuse, Bell System Technical Journal 56, 1977), and nothing is said of it for multimode.
ExpectedLoss expectedLoss(const std::vector<Finding>& findings, const LightSpot& spot, std::optional<Micrometre> offset = {});

}  // namespace clendo::face
