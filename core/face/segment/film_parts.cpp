#include "face/segment/film_parts.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

namespace clendo::face {
namespace {

constexpr double broadUm = 8;         // across
constexpr double solid = 0.35;        // of the circle around it
constexpr double leastWithin = 0.75;  // of the outline of a spot
constexpr double mostOver = 2.2;      // times the film's contrast: spots of its noise
constexpr std::size_t asked = 40;     // points of an outline

bool isBroad(const Piece& film, double ppu)
{
    return 2 * film.radius > broadUm * ppu && film.area > solid * std::numbers::pi * film.radius * film.radius;
}

bool isSpotOf(const Piece& film, const Piece& spot)
{
    if (spot.contrast / film.contrast > mostOver || spot.area > film.area || cv::norm(spot.centre - film.centre) > film.radius) return false;
    const std::size_t step = std::max<std::size_t>(1, spot.outline.size() / asked);
    std::size_t all = 0, within = 0;
    for (std::size_t i = 0; i < spot.outline.size(); i += step) {
        ++all;
        within += cv::pointPolygonTest(film.outline, spot.outline[i], false) >= 0 ? 1 : 0;
    }
    return double(within) >= leastWithin * double(all);
}

}  // namespace

void joinFilmParts(std::vector<Piece>& pieces, std::size_t from, const std::vector<Piece>& calm, double ppu)
{
    for (const Piece& film : calm) {
        if (!isBroad(film, ppu)) continue;
        const auto first = pieces.begin() + static_cast<std::ptrdiff_t>(from);
        const auto spots = std::stable_partition(first, pieces.end(), [&](const Piece& p) { return !isSpotOf(film, p); });
        if (static_cast<std::size_t>(pieces.end() - spots) < fewestFilmParts) continue;
        const bool atRim = std::any_of(spots, pieces.end(), [](const Piece& p) { return p.atRim; });
        pieces.erase(spots, pieces.end());
        pieces.push_back(film);
        pieces.back().atRim = film.atRim || atRim;
    }
}

}  // namespace clendo::face
