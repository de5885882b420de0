#pragma once
#include <opencv2/core.hpp>

#include "face/even/flatten.h"
#include "face/segment/piece.h"

namespace clendo::face {

/// Diameters, or lengths, of faint things that are hardly larger than the blur. Their outlines follow the noise, and what a small dark thing and a
/// larger faint one look like differs little. So blurred discs of many diameters, one or some in a line, are fitted to the pixels, and each counts as
/// much as it fits, and as dirt is likely to be so dark. Lengths in pixels of the picture.
class SmallDiscs {
public:
    /// `sigma`: of the picture's blur and its pixels; `noise`: noiseOf(glass). `glass` must outlive it.
    SmallDiscs(const Flattened& glass, double sigma, double noise);

    /// How far the fit is to be believed against the outline: from 0 (what stands clear or is large) to 1.
    [[nodiscard]] double weight(const Piece& piece) const;
    /// Expected diameter of the circle around a thing in the glass.
    [[nodiscard]] double diameter(const Piece& piece) const;

private:
    const Flattened& glass_;
    double sigma_, noise_;
};

}  // namespace clendo::face
