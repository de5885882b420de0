#pragma once
#include <opencv2/core.hpp>
#include <vector>

#include "face/even/flatten.h"
#include "face/segment/piece.h"

namespace clendo::face {

/// Long things that no scratch alone explains, but several do: those that cross or lie side by side, grooves whose flanks fell to pieces, a scratch
/// with something of the rim.
class DrawnLines {
public:
    /// `ppu`: pixels per um.
    DrawnLines(const Flattened& glass, double ppu);

    /// Up to four lines that explain what shows of a piece, as strokes. Each runs along an arc without a gap, and each crosses another or lies beside
    /// it: lint, which bends and winds, is no such lines. Empty where the piece is not made of them.
    [[nodiscard]] std::vector<Piece> of(const Piece& piece) const;

    /// Whether a piece lies along a stroke and stands out no more: a part of it, or its faint tip.
    [[nodiscard]] bool hasPart(const Piece& stroke, const Piece& piece) const;

private:
    const Flattened& glass_;
    double ppu_;
    double noise_;
    cv::Mat1f shown_;  // how strongly, dark or bright
};

}  // namespace clendo::face
