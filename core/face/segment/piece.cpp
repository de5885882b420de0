#include "face/segment/piece.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <utility>

#include "face/find/axis.h"
#include "face/noise/jpeg_blocks.h"

namespace clendo::face {
namespace {

constexpr double haloShare = 0.25, haloGapUm = 1.5, haloWidthUm = 3;
constexpr double fringeShare = 0.15, fringeContrast = 0.08;                 // hardly visible, while what it lies beside is plain
constexpr double roundedShare = 0.25, roundedSteps = 2;                     // what JPEG leaves around a strong thing
constexpr double arcShare = 0.4, arcOfSameSign = 0.25, arcContrast = 0.15;  // what runs along the thing may be plainer
constexpr double arcReachUm = 4, arcSlender = 1.7, partOfLine = 0.4;
constexpr double lineUm = 12, lineSlender = 4;
constexpr double sideUm = 2, sideShare = 0.5;
constexpr double middleShare = 0.35;   // of a droplet's radius
constexpr double leastRing = 0.2;      // of its circle
constexpr double fainterWithin = 0.6;  // of the contrast of an arch
constexpr double partShare = 0.5, mostAskew = -0.5, glintGapUm = 0.7,
                 leastGlint = 0.1;  // of the plainer part; cosine of the angle at what shines between them
constexpr double acrossUm = 5;      // across the adhesive
constexpr double filmContrast = 0.2, filmGapUm = 3, filmPatchUm = 6;

bool isWithin(const Piece& inner, const Piece& outer)
{
    if (!outer.hollow || (outer.arch ? std::abs(inner.contrast) > fainterWithin * std::abs(outer.contrast) : !isRing(outer))) return false;
    return cv::norm(inner.centre - outer.centre) + inner.radius < outer.radius * 1.05;
}

/// A droplet gathers light in its middle, or keeps it off, where its rim does the other.
bool isMiddleOf(const Piece& inner, const Piece& outer)
{
    return inner.contrast * outer.contrast < 0 && isWithin(inner, outer) && cv::norm(inner.centre - outer.centre) < middleShare * outer.radius;
}

const Piece& strongerOf(const Piece& a, const Piece& b) { return std::abs(a.contrast) >= std::abs(b.contrast) ? a : b; }

/// Of a scratch, or a straight part of lint.
std::optional<Axis> lineAxis(const Piece& p, double ppu)
{
    if (2 * p.radius < std::max(lineUm * ppu, lineSlender * p.area / (2 * p.radius))) return std::nullopt;
    return straightAxis(p, ppu);
}

/// The other side of a line, which the light makes bright where the line is dark, or its halo: all of it lies beside the line.
bool isSideOf(const Piece& side, const Piece& line, const Axis& axis, double ppu)
{
    const double reach = line.area / (4 * line.radius) + sideUm * ppu;
    return std::all_of(side.outline.begin(), side.outline.end(), [&](const cv::Point2f& p) { return axis.aside(p) < reach; });
}

/// Lines of pieces that are compared with many others: each is fitted once, until its piece grows.
class LineAxes {
public:
    LineAxes(const std::vector<Piece>& pieces, double ppu) : pieces_(pieces), known_(pieces.size()), ppu_(ppu) {}
    const std::optional<Axis>& of(const Piece& piece)
    {
        auto& known = known_[static_cast<std::size_t>(&piece - pieces_.data())];
        if (!known) known = lineAxis(piece, ppu_);
        return *known;
    }
    /// One piece was made a part of another.
    void taken(std::size_t into, std::size_t from)
    {
        known_[into].reset();
        known_.erase(known_.begin() + static_cast<std::ptrdiff_t>(from));
    }

private:
    const std::vector<Piece>& pieces_;
    std::vector<std::optional<std::optional<Axis>>> known_;
    double ppu_;
};

bool belongTogether(const Piece& a, const Piece& b, const Joining& j, LineAxes& axes)
{
    const double ppu = j.pixelsPerMicrometre;
    const double apart = cv::norm(a.centre - b.centre), largest = std::max(a.radius, b.radius), smallest = std::min(a.radius, b.radius);
    const double strong = std::max(std::abs(a.contrast), std::abs(b.contrast)), weak = std::min(std::abs(a.contrast), std::abs(b.contrast));
    if (a.region != b.region) {
        const double near = std::max(acrossUm * ppu, j.across);
        return a.atRim && b.atRim && !a.staysOut && !b.staysOut && weak > 0.35 * strong && gapBetween(a, b, near) < near;
    }
    // a film is seen in patches: faint, close together; in the glass, where small dust is seen too, only wide ones
    const bool film = strong < filmContrast && (a.region == Region::Ferrule || (a.contrast * b.contrast > 0 && smallest > filmPatchUm / 2 * ppu));
    if (film) return gapBetween(a, b, filmGapUm * ppu) < filmGapUm * ppu;
    const Piece &outer = a.radius >= b.radius ? a : b, &inner = a.radius >= b.radius ? b : a;
    if (a.contrast * b.contrast > 0) return isWithin(inner, outer);
    if (isMiddleOf(inner, outer)) return true;
    const double near = 1.2 * ppu + j.blur;
    if (gapBetween(a, b, near) >= near) return false;
    const Piece& stronger = strongerOf(a, b);
    if (const auto& axis = axes.of(stronger)) return isSideOf(&stronger == &a ? b : a, stronger, *axis, ppu);
    return apart + 0.5 * smallest < largest;
}

/// What shines between two parts of a flake, which it seems to divide: compact things of the other sign, about as plain as each other, on both sides.
bool dividedBy(const Piece& glint, const Piece& a, const Piece& b, LineAxes& axes)
{
    const auto [weak, strong] = std::minmax({std::abs(a.contrast), std::abs(b.contrast)});
    // what hardly shows comes of noise and of JPEG; what is not compact may be two scratches
    if (std::min(weak, std::abs(glint.contrast)) < leastGlint || !isRing(a) || !isRing(b)) return false;
    if (weak < partShare * strong || glint.region != a.region || glint.region != b.region || glint.radius > std::max(a.radius, b.radius))
        return false;
    const cv::Point2f toA = a.centre - glint.centre, toB = b.centre - glint.centre;
    if (double(toA.dot(toB)) > mostAskew * cv::norm(toA) * cv::norm(toB)) return false;
    return !axes.of(a) && !axes.of(b);
}

/// Whether it is an arc about the other: much longer along the other's outline than away from it.
bool runsAlong(const Piece& arc, const Piece& thing, double ppu)
{
    if (!isRing(thing) && arc.radius > partOfLine * thing.radius) return false;  // the other side of a groove
    double nearest = arcReachUm * ppu, farthest = 0;
    for (std::size_t i = 0; i < arc.outline.size(); i += 2) {
        double away = arcReachUm * ppu;
        for (std::size_t k = 0; k < thing.outline.size(); k += 2) away = std::min(away, cv::norm(arc.outline[i] - thing.outline[k]));
        nearest = std::min(nearest, away);
        farthest = std::max(farthest, away);
    }
    return farthest < arcReachUm * ppu && 2 * arc.radius > arcSlender * (farthest - nearest);
}

/// The ring of light around a strong thing: far weaker, at its outline. It is no thing of its own and makes the other no larger. Sharpening makes it
/// of the other sign; the optics' flare and what JPEG leaves of them are of the same, and weaker still.
bool isHaloOf(const Piece& halo, const Piece& thing, const Joining& j)
{
    const double ppu = j.pixelsPerMicrometre, weak = std::abs(halo.contrast), strong = std::abs(thing.contrast);
    const bool opposite = halo.contrast * thing.contrast < 0;
    if (halo.region != thing.region || weak > arcShare * strong) return false;
    const double share = opposite ? haloShare : j.rounding > 0 ? roundedShare : fringeShare;
    const bool visible = weak > share * strong || (!opposite && weak > std::max(fringeContrast, roundedSteps * j.rounding));
    // of the same sign, beside a line, it is how that or another one goes on
    if (visible && !opposite && (!isRing(thing) || weak > arcOfSameSign * strong || weak > arcContrast)) return false;
    // patterns of JPEG fill the block that the strong thing lies in
    const bool pattern = weak < roundedSteps * j.rounding;
    const double near = std::max(haloGapUm * ppu + j.blur, pattern ? double(jpegBlock) : 0.0);
    const bool beside = halo.radius < thing.radius + haloWidthUm * ppu && gapBetween(halo, thing, near) < near;
    return beside && (!visible || runsAlong(halo, thing, ppu));
}

/// Indices of two pieces that this one divides.
std::optional<std::pair<std::size_t, std::size_t>> partsDividedBy(std::size_t glint, const std::vector<Piece>& pieces, const Joining& j,
                                                                  LineAxes& axes)
{
    std::vector<std::size_t> beside;
    const double near = glintGapUm * j.pixelsPerMicrometre + j.blur;
    for (std::size_t i = 0; i < pieces.size(); ++i)
        if (pieces[i].contrast * pieces[glint].contrast < 0 && gapBetween(pieces[glint], pieces[i], near) < near) beside.push_back(i);
    for (std::size_t i = 0; i < beside.size(); ++i)
        for (std::size_t k = i + 1; k < beside.size(); ++k)
            if (dividedBy(pieces[glint], pieces[beside[i]], pieces[beside[k]], axes)) return std::pair(beside[i], beside[k]);
    return std::nullopt;
}

/// Makes `b` a part of `a`.
void merge(Piece& a, const Piece& b, LineAxes& axes)
{
    const Piece &outer = a.radius >= b.radius ? a : b, &inner = a.radius >= b.radius ? b : a;
    if (a.region == b.region && isMiddleOf(inner, outer)) {
        a = Piece(outer);
        return;
    }
    const bool opposite = a.contrast * b.contrast < 0, line = opposite && axes.of(strongerOf(a, b));
    if (line && a.region == b.region &&
        std::min(std::abs(a.contrast), std::abs(b.contrast)) < sideShare * std::max(std::abs(a.contrast), std::abs(b.contrast))) {
        a = Piece(strongerOf(a, b));  // a halo makes it no wider
        return;
    }
    a.hollow = a.hollow || b.hollow || (opposite && !line);
    if (b.region == Region::Glass) a.region = Region::Glass;
    const bool reaches = a.atRim;  // of its own: light beside a line does not make the line go on
    a.add(b);
    a.atRim = reaches;
}

}  // namespace

bool isRing(const Piece& p) { return p.area > leastRing * std::numbers::pi * p.radius * p.radius; }

double gapBetween(const Piece& a, const Piece& b, double enough)
{
    double least = enough;
    if (cv::norm(a.centre - b.centre) - a.radius - b.radius > enough) return enough;
    // most of the larger outline lies far from the circle around the smaller one
    const Piece &larger = a.radius >= b.radius ? a : b, &smaller = a.radius >= b.radius ? b : a;
    for (std::size_t i = 0; i < larger.outline.size(); i += 2) {
        const cv::Point2f at = larger.outline[i];
        if (cv::norm(at - smaller.centre) - smaller.radius > least) continue;
        for (std::size_t k = 0; k < smaller.outline.size(); k += 2) least = std::min(least, cv::norm(at - smaller.outline[k]));
    }
    return least;
}

void Piece::enclose()
{
    std::vector<cv::Point2f> hull;  // the circle around the hull is the circle around all, and a hundred times quicker
    cv::convexHull(outline, hull);
    float r = 0;
    cv::minEnclosingCircle(hull, centre, r);
    radius = double(r);
}

void Piece::add(const Piece& part)
{
    outline.insert(outline.end(), part.outline.begin(), part.outline.end());
    area += part.area;
    atRim = atRim || part.atRim;
    arch = arch || part.arch;
    flake = flake || part.flake;
    if (std::abs(part.contrast) > std::abs(contrast)) contrast = part.contrast;
    enclose();
}

void joinPieces(std::vector<Piece>& pieces, const Joining& joining)
{
    std::vector<Piece> things;
    std::copy_if(pieces.begin(), pieces.end(), std::back_inserter(things), [&](const Piece& halo) {
        return std::none_of(pieces.begin(), pieces.end(), [&](const Piece& thing) { return isHaloOf(halo, thing, joining); });
    });
    pieces = std::move(things);
    LineAxes axes(pieces, joining.pixelsPerMicrometre);
    const auto joins = [&](std::size_t a, std::size_t b) { return belongTogether(pieces[a], pieces[b], joining, axes); };
    const auto take = [&](std::size_t into, std::size_t from) {
        merge(pieces[into], pieces[from], axes);
        pieces.erase(pieces.begin() + static_cast<std::ptrdiff_t>(from));
        axes.taken(into, from);
    };
    for (std::size_t glint = 0; glint < pieces.size();) {
        const auto parts = partsDividedBy(glint, pieces, joining, axes);
        if (!parts) {
            ++glint;
            continue;
        }
        const auto [into, from] = *parts;  // the first of the two, and the other
        take(into, from);
        pieces[into].flake = true;
        if (from < glint) --glint;
        pieces.erase(pieces.begin() + static_cast<std::ptrdiff_t>(glint));
        axes.taken(into - (glint < into ? 1 : 0), glint);
    }
    // what has grown is compared with all others again, those before it first; no other pair is: a broken picture has thousands
    for (std::size_t i = 0; i < pieces.size();) {
        std::size_t other = i + 1;
        while (other < pieces.size() && !joins(i, other)) ++other;
        if (other == pieces.size()) {
            ++i;
            continue;
        }
        take(i, other);
        for (std::size_t before = 0; before < i;) {
            if (!joins(before, i)) {
                ++before;
                continue;
            }
            take(before, i);
            i = std::exchange(before, 0);
        }
    }
}

}  // namespace clendo::face
