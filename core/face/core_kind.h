#pragma once
#include <optional>

#include "criteria/finding.h"
#include "face/radial_profile.h"

namespace clendo::face {

struct CoreEstimate {
    std::optional<CoreKind> kind;            ///< nothing: the picture shows no core
    bool inferred = false;                   ///< no core shows, and one of multimode would: taken as single-mode
    double radius = 4.5;                     ///< um
    double strength = 0;                     ///< contrast against the cladding, a share
    double glass = 1, flat = 0, graded = 0;  ///< the fitted levels: of the glass, of an even and of a parabolic core

    /// Level that a core may have at this distance (um) from its centre. No core is darker than the darkest known: what is, is dirt on its middle.
    [[nodiscard]] double level(double um) const;
};

/// Which core the mean radial profile shows: templates of 9, 50 and 62.5 um (flat and parabolic) are fitted, the least residual
/// wins where it explains clearly more than no core. The doped core of a multimode fibre shows at every polish: where even a disc of its size
/// stays within 2 % of the glass, the core is inferred to be single-mode. `ppu`: pixels per um.
CoreEstimate estimateCore(const RadialProfile& profile, double ppu);

}  // namespace clendo::face
