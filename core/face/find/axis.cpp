#include "face/find/axis.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <vector>

namespace clendo::face {
namespace {

constexpr double leastLengthUm = 6, leastSlender = 2;
constexpr double mostBentUm = 0.8, outlineOnLine = 0.8;
constexpr double everywhere = 0.618034;  // golden ratio: points are taken from all over an outline, of whatever length
constexpr std::size_t points = 1500;     // of an outline tell its line as well as all do, which are tens of thousands of a picture that is broken

}  // namespace

std::optional<Axis> straightAxis(const Piece& piece, double ppu)
{
    const double length = 2 * piece.radius, width = piece.area / std::max(1.0, length);
    if (piece.outline.empty() || length < leastLengthUm * ppu || length < leastSlender * width) return std::nullopt;
    std::vector<cv::Point2f> outline;
    const std::size_t all = piece.outline.size(), few = std::min(all, points);
    for (std::size_t i = 0; i < few; ++i)
        outline.push_back(piece.outline[few < all ? static_cast<std::size_t>(std::fmod(double(i) * everywhere, 1.0) * double(all)) : i]);
    cv::Vec4f line;
    cv::fitLine(outline, line, cv::DIST_HUBER, 0, 0.01, 0.01);
    const Axis axis{{line[2], line[3]}, {line[0], line[1]}};
    std::vector<double> aside;
    aside.reserve(outline.size());
    for (const auto& p : outline) aside.push_back(axis.aside(p));
    const auto most = aside.begin() + static_cast<std::ptrdiff_t>(double(aside.size()) * outlineOnLine);
    std::nth_element(aside.begin(), most, aside.end());
    if (2 * *most - width > mostBentUm * ppu + 0.5 * width) return std::nullopt;
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
