#pragma once
#include <opencv2/core.hpp>

#include "face/segment/piece.h"

namespace clendo::face {

/// The box around a piece, um.
struct Shape {
    double longer = 0, shorter = 0, meanWidth = 0;
    cv::Point2f along;  ///< direction of the longer side
};

/// `ppu`: pixels per um.
Shape shapeOf(const Piece& piece, double ppu);

/// How the middle line of a long piece runs.
struct Course {
    double off = 0, bend = 0;  ///< um: of its middle line from an arc of constant bend, root of mean squares; by how much that arc bends
    cv::Vec3d arc{0, 0, 0};    ///< um aside of the piece's centre at a place along it: arc[0] + arc[1] x + arc[2] x^2, x from -1 at one end to 1
    double first = 0;          ///< where it begins along the shape's direction, um from the piece's centre
    bool known = false;        ///< long enough
    /// How far aside of the piece's centre the arc lies at `t` along it, um from where it begins.
    [[nodiscard]] double aside(double t, const Shape& shape) const
    {
        const double x = 2 * t / shape.longer - 1;
        return arc[0] + arc[1] * x + arc[2] * x * x;
    }
};

/// `pixel`: um.
Course courseOf(const Piece& piece, const Shape& shape, double pixel);

}  // namespace clendo::face
