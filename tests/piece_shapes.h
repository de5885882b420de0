#pragma once
#include <numbers>

#include "face/size/describe.h"

/// Pieces of simple shapes, for the tests of what is made of them.
namespace clendo::face {

constexpr double ppu = 2.5;  // pixels per um
inline const CladdingEdge edge{{500, 400, 62.5 * ppu, 1}, 0.5 * ppu, 3, 1, 120, 150};

/// The outline of a band around a chain of points (um from the fibre's centre), as a piece.
inline Piece band(const std::vector<cv::Point2d>& chain, double widthUm, double contrast = -0.3)
{
    Piece p;
    p.contrast = contrast;
    for (std::size_t i = 0; i + 1 < chain.size(); ++i) {
        const cv::Point2d a = chain[i], b = chain[i + 1], along = (b - a) / cv::norm(b - a), across(-along.y, along.x);
        const double length = cv::norm(b - a);
        for (double t = 0; t <= length; t += 0.1)
            for (const double side : {-0.5, 0.5}) {
                const cv::Point2d q = a + along * t + across * (side * widthUm);
                p.outline.emplace_back(static_cast<float>(edge.circle.x + q.x * ppu), static_cast<float>(edge.circle.y + q.y * ppu));
            }
        p.area += length * widthUm * ppu * ppu;
    }
    p.enclose();
    return p;
}

inline Piece disc(double x, double y, double sizeUm, double contrast = -0.4)
{
    Piece p;
    p.contrast = contrast;
    for (int k = 0; k < 200; ++k) {
        const double a = 2 * std::numbers::pi * k / 200;
        p.outline.emplace_back(static_cast<float>(edge.circle.x + (x + sizeUm / 2 * std::cos(a)) * ppu),
                               static_cast<float>(edge.circle.y + (y + sizeUm / 2 * std::sin(a)) * ppu));
    }
    p.area = std::numbers::pi * sizeUm * sizeUm / 4 * ppu * ppu;
    p.enclose();
    return p;
}

inline Piece both(Piece a, const Piece& b)
{
    a.outline.insert(a.outline.end(), b.outline.begin(), b.outline.end());
    a.area += b.area;
    a.enclose();
    return a;
}

inline std::vector<cv::Point2d> arc(double sagitta, double length)
{
    std::vector<cv::Point2d> chain;
    for (int i = 0; i <= 30; ++i) {
        const double t = i / 15.0 - 1;
        chain.emplace_back(t * length / 2, sagitta * (1 - t * t));
    }
    return chain;
}

}  // namespace clendo::face
