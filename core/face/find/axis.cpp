#include "face/find/axis.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <opencv2/imgproc.hpp>
#include <vector>

namespace clendo::face {
namespace {

constexpr double leastLengthUm = 6, leastSlender = 2;
constexpr double mostBentUm = 0.8, outlineOnLine = 0.8;
constexpr int passes = 3;
constexpr double nearLine = 1.3;         // times what most of the outline keeps to
constexpr double everywhere = 0.618034;  // golden ratio: points are taken from all over an outline, of whatever length
constexpr std::size_t points = 1500;     // of an outline tell its line as well as all do, which are tens of thousands of a picture that is broken

Axis fitted(const std::vector<cv::Point2f>& outline)
{
    cv::Vec4f line;
    cv::fitLine(outline, line, cv::DIST_L2, 0, 0.01, 0.01);
    return {{line[2], line[3]}, {line[0], line[1]}};
}

/// How far from the axis most of an outline lies at most.
double mostAside(const std::vector<cv::Point2f>& outline, const Axis& axis)
{
    std::vector<double> aside;
    aside.reserve(outline.size());
    for (const auto& p : outline) aside.push_back(axis.aside(p));
    const auto most = aside.begin() + static_cast<std::ptrdiff_t>(double(aside.size()) * outlineOnLine);
    std::nth_element(aside.begin(), most, aside.end());
    return *most;
}

}  // namespace

std::optional<Axis> straightAxis(const Piece& piece, double ppu)
{
    const double length = 2 * piece.radius, width = piece.area / std::max(1.0, length);
    if (piece.outline.empty() || length < leastLengthUm * ppu || length < leastSlender * width) return std::nullopt;
    std::vector<cv::Point2f> outline;
    const std::size_t all = piece.outline.size(), few = std::min(all, points);
    for (std::size_t i = 0; i < few; ++i)
        outline.push_back(piece.outline[few < all ? static_cast<std::size_t>(std::fmod(double(i) * everywhere, 1.0) * double(all)) : i]);
    // both sides of the outline tell the line, which a robust fit would choose between; what lies aside is left out by and by
    Axis axis = fitted(outline);
    std::vector<cv::Point2f> on;
    for (int pass = 0; pass < passes; ++pass) {
        const double most = nearLine * mostAside(outline, axis);
        on.clear();
        std::copy_if(outline.begin(), outline.end(), std::back_inserter(on), [&](const cv::Point2f& p) { return axis.aside(p) <= most; });
        axis = fitted(on);
    }
    if (2 * mostAside(outline, axis) - width > mostBentUm * ppu + 0.5 * width) return std::nullopt;
    return axis;
}

std::optional<LinePiece> straightLine(const Piece& piece, double ppu)
{
    const auto axis = straightAxis(piece, ppu);
    if (!axis) return std::nullopt;
    LinePiece line{*axis, 1e9, -1e9, 0};
    for (const auto& p : piece.outline) {
        line.low = std::min(line.low, line.along(p));
        line.high = std::max(line.high, line.along(p));
    }
    line.width = piece.area / std::max(1.0, line.length());
    return line;
}

}  // namespace clendo::face
