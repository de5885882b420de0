#pragma once
#include <string_view>
#include <vector>

#include "criteria/finding.h"
#include "files/rule_files.h"
#include "result/result.h"

namespace clendo::face {

/// How a connector's polish reflects; from data/fibres/polish.json.
struct PolishReflectance {
    Decibel inContact;             ///< when both faces touch
    double coreIndex = 1.468;      ///< refractive index of the core
    Decibel tiltLoss{0};           ///< what an angled face keeps of reflected light out of the core
    Micrometre contactRadius{60};  ///< within this the faces touch: what stands proud here parts them
};

/// For "sm-upc" and the like; an Error where the file is missing or does not know the class.
Result<PolishReflectance> loadPolishReflectance(std::string_view className, const RuleFiles& rules);

/// The reflectance if this face were mated now, in dB (negative): from that of two faces in contact to that of a glass-air-glass gap.
struct ExpectedReflectance {
    Decibel least, most;
    bool gapPossible = false;  ///< something that can stand proud lies where the faces touch
};

/// A particle, lint or chip between the faces can part them; two glass-air surfaces then interfere, at most R = 4r²/(1+r²)² with
/// r = (n-1)/(n+1) (plane-parallel plate: Born and Wolf, Principles of Optics, 7.6.1); a blocked part of the light's way alone reflects at most its
/// share of one surface, r². Films and droplets fill the gap and are taken the same way. `blockedShare` as in ExpectedLoss.
ExpectedReflectance expectedReflectance(const std::vector<Finding>& findings, double blockedShare, const PolishReflectance& polish);

}  // namespace clendo::face
