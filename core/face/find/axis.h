#pragma once
#include <cmath>
#include <optional>

#include "face/segment/piece.h"

namespace clendo::face {

/// The straight line along which a thing lies.
struct Axis {
    cv::Point2d middle, along;  ///< `along` of length 1

    /// Distance from it.
    [[nodiscard]] double aside(cv::Point2f p) const { return std::abs(along.x * (double(p.y) - middle.y) - along.y * (double(p.x) - middle.x)); }
};

/// A piece along a line.
struct LinePiece {
    Axis axis;
    double low = 0, high = 0;  ///< along the axis, from its middle: where the piece begins and ends, pixels
    double width = 0;          ///< mean, pixels
    [[nodiscard]] double length() const { return high - low; }
    [[nodiscard]] double along(cv::Point2f p) const { return (cv::Point2d(p) - axis.middle).dot(axis.along); }
};

/// Of a piece that is several times as long as wide and most of whose outline lies along one line; nothing of others. A few points may lie aside:
/// averaging along lines leaves arms on them. `ppu`: pixels per um.
std::optional<Axis> straightAxis(const Piece& piece, double ppu);
/// The same with where it begins and ends.
std::optional<LinePiece> straightLine(const Piece& piece, double ppu);

}  // namespace clendo::face
