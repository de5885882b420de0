#include "face/piece.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

namespace clendo::face {
namespace {

constexpr double haloShare = 0.25, haloGapUm = 1.5, haloWidthUm = 3;
constexpr double fringeShare = 0.15, fringeContrast = 0.08;  // hardly visible, while what it lies beside is plain
constexpr double acrossUm = 5;                               // across the adhesive
constexpr double filmContrast = 0.2, filmGapUm = 3, filmPatchUm = 6;

/// Least distance of the outlines, or `enough` where they are farther apart: every second point, a quarter pixel each, is plenty.
double gapBetween(const Piece& a, const Piece& b, double enough)
{
    double least = enough;
    if (cv::norm(a.centre - b.centre) - a.radius - b.radius > enough) return enough;
    for (std::size_t i = 0; i < a.outline.size(); i += 2) {
        if (cv::norm(a.outline[i] - b.centre) - b.radius > least) continue;
        for (std::size_t k = 0; k < b.outline.size(); k += 2) least = std::min(least, cv::norm(a.outline[i] - b.outline[k]));
    }
    return least;
}

/// A droplet's rim fills a good part of its circle; a bent thing that closes on itself does not.
bool isRing(const Piece& p) { return p.area > 0.2 * std::numbers::pi * p.radius * p.radius; }

bool belongTogether(const Piece& a, const Piece& b, const Joining& j)
{
    const double ppu = j.pixelsPerMicrometre;
    const double apart = cv::norm(a.centre - b.centre), largest = std::max(a.radius, b.radius), smallest = std::min(a.radius, b.radius);
    const double strong = std::max(std::abs(a.contrast), std::abs(b.contrast)), weak = std::min(std::abs(a.contrast), std::abs(b.contrast));
    if (a.region != b.region) {
        const double near = std::max(acrossUm * ppu, j.across);
        return a.atRim && b.atRim && !a.sliver && !b.sliver && weak > 0.35 * strong && gapBetween(a, b, near) < near;
    }
    // a film is seen in patches: faint, close together; in the glass, where small dust is seen too, only wide ones
    const bool film = strong < filmContrast && (a.region == Region::Ferrule || (a.contrast * b.contrast > 0 && smallest > filmPatchUm / 2 * ppu));
    if (film) return gapBetween(a, b, filmGapUm * ppu) < filmGapUm * ppu;
    const Piece& outer = a.radius >= b.radius ? a : b;
    if (a.contrast * b.contrast > 0) return outer.hollow && isRing(outer) && apart + smallest < largest * 1.05;
    const double near = 1.2 * ppu + j.blur;
    return apart + 0.5 * smallest < largest && gapBetween(a, b, near) < near;
}

/// The ring of light around a strong thing: far weaker, at its outline. It is no thing of its own and makes the other no larger. Sharpening makes it
/// of the other sign; the optics' flare and what JPEG leaves of them are of the same, and weaker still.
bool isHaloOf(const Piece& halo, const Piece& thing, double ppu, double blur)
{
    const double weak = std::abs(halo.contrast), strong = std::abs(thing.contrast);
    const bool opposite = halo.contrast * thing.contrast < 0;
    if (halo.region != thing.region || weak > (opposite ? haloShare : fringeShare) * strong || (!opposite && weak > fringeContrast)) return false;
    const double near = haloGapUm * ppu + blur;
    return halo.radius < thing.radius + haloWidthUm * ppu && gapBetween(halo, thing, near) < near;
}

}  // namespace

void Piece::enclose()
{
    std::vector<cv::Point2f> hull;  // the circle around the hull is the circle around all, and a hundred times quicker
    cv::convexHull(outline, hull);
    float r = 0;
    cv::minEnclosingCircle(hull, centre, r);
    radius = double(r);
}

void joinPieces(std::vector<Piece>& pieces, const Joining& joining)
{
    std::erase_if(pieces, [&](const Piece& halo) {
        return std::any_of(pieces.begin(), pieces.end(),
                           [&](const Piece& thing) { return isHaloOf(halo, thing, joining.pixelsPerMicrometre, joining.blur); });
    });
    for (bool again = true; again;) {
        again = false;
        for (std::size_t i = 0; i < pieces.size() && !again; ++i)
            for (std::size_t k = i + 1; k < pieces.size() && !again; ++k) {
                if (!belongTogether(pieces[i], pieces[k], joining)) continue;
                Piece& a = pieces[i];
                const Piece& b = pieces[k];
                a.outline.insert(a.outline.end(), b.outline.begin(), b.outline.end());
                a.area += b.area;
                a.hollow = a.hollow || b.hollow || a.contrast * b.contrast < 0;
                if (std::abs(b.contrast) > std::abs(a.contrast)) a.contrast = b.contrast;
                if (b.region == Region::Glass) a.region = Region::Glass;
                a.enclose();
                pieces.erase(pieces.begin() + static_cast<std::ptrdiff_t>(k));
                again = true;
            }
    }
}

}  // namespace clendo::face
