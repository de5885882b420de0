#include "face/size/describe.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <iterator>
#include <numbers>
#include <numeric>
#include <opencv2/imgproc.hpp>
#include <optional>

#include "face/noise/map_noise.h"
#include "face/size/drawn_lines.h"
#include "face/size/line_width.h"
#include "face/size/lines_within.h"
#include "face/size/rings.h"
#include "face/size/shape.h"
#include "face/size/small_discs.h"
#include "face/size/winding.h"

namespace clendo::face {
namespace {

constexpr double cornered = 1;               // sigmas by which the circle around an angular thing is too small, for all of it that is missing
constexpr double slim = 1.8, slimmer = 0.5;  // length over width, as seen, from which its tips fade; sigmas for each time more
constexpr double slimUpTo = 12;              // um: the tips of longer things are as wide as they are
constexpr double clearly = 0.15;             // contrast of what noise does not make narrower
constexpr double smallest = 1;               // sigmas: smaller things differ in contrast alone

constexpr double fwhm = 2.355;  // of a Gaussian, in sigmas
// The cladding's edge is softer than the optics, which a sharp picture shows to be no worse than this; um
constexpr double edgeOverOptics = 0.75, sharpOptics = 0.48;
constexpr double leastOptics = 0.4;    // of the edge's blur: what pixels make of it is not known so well that all could be theirs
constexpr double clearDroplet = 0.35;  // contrast of a small one; pits with a dark rim are darker
constexpr double narrowest = 0.5;      // um: below it no width can be told
constexpr double angular = 0.9;        // share of its circle from which a thing is round: corners of others are rounded off by the blur
constexpr double widestScratch = 7, shortestScratch = 4;              // um
constexpr double leastSlender = 3.2;                                  // as seen
constexpr double slenderScratch = 5.6;                                // length over width
constexpr double slenderAtRim = 7;                                    // of broad things that may go on beyond the rim, where lint bends
constexpr double shortestLine = 8;                                    // pixels: of what is shorter, none can tell how wide it is
constexpr double toldApart = 1.6;                                     // sigmas: how wide below it a thing is, no picture shows
constexpr double mostBent = 2.8;                                      // um by which a scratch may leave its straight line
constexpr double broad = 2.5, mostOff = 0.2, mostArc = 1.1;           // um: of drawn and of given faces, scratches lie 0.04 off, lint 0.12 and more
constexpr double winds = 0.2, windsPixel = 0.06, clearlyDrawn = 0.2;  // um and pixels off an arc; contrast of what noise does not make wind
// Of the scratches that show so plainly, on given and on drawn faces, none bends in an arc of less than 150 um; lint curls. As measured: of short
// things somewhat less bend is seen than there is
constexpr double tightestArc = 50, leastBend = 0.25, bendPixel = 0.1;       // um; um and pixels by which noise may bend a line
constexpr double longAsDrawn = 12, offAsDrawn = 0.15, bentAsDrawn = 0.035;  // times its width; um off an arc; of its length
constexpr double faintestLint = 0.1;                                        // contrast
constexpr int mostTried = 12;                                               // to be taken apart: a broken picture has thousands
constexpr double longEnough = 12;                                           // um: of what is taken apart into lines
constexpr double narrowestChip = 1.5, longestChip = 45;                     // um
constexpr double sliverReach = 0.9;                                         // of the glass's radius
constexpr double faintestChip = 0.2, surelyChip = 0.35;                     // contrast
constexpr double tangential = 30;                                           // degrees
constexpr double nextToTheEdge = 10;                                        // um

/// Many times as long as wide, and along one arc that hardly bends: lint winds, and bends several times as much. Noise and the two sides of a groove
/// may make its outline hollow.
bool isDrawn(const Shape& s, const Course& course)
{
    return course.known && s.longer > longAsDrawn * s.meanWidth && course.off < offAsDrawn && course.bend < bentAsDrawn * s.longer;
}

/// It runs in a tighter arc than anything hard would.
bool isCurled(const Piece& piece, const Shape& s, const Course& course, double pixel)
{
    return course.known && !piece.stroke && std::abs(piece.contrast) > clearlyDrawn && course.bend > leastBend + bendPixel * pixel &&
           s.longer * s.longer < 8 * course.bend * tightestArc;
}

/// `sigma`: of the blur, um.
bool isScratch(const Piece& piece, const Shape& s, const Course& course, double pixel, double sigma)
{
    if (piece.flake || isCurled(piece, s, course, pixel)) return false;
    // flakes and chips are up to five times as long as wide, scratches eight times and more; the blur widens both. Where it is open the thing is no
    // scratch: that is the stricter rule
    if (s.longer < slenderScratch * std::max(widthBeforeBlur(s.meanWidth, sigma), toldApart * sigma)) return false;
    const bool scratchLike =
        s.longer > leastSlender * s.meanWidth && s.longer > std::max(shortestScratch, shortestLine * pixel) && s.meanWidth < widestScratch;
    if (!scratchLike) return false;
    if (piece.region == Region::Glass && isDrawn(s, course)) return true;
    // a wide thing may not bend in proportion to its width: scratches are drawn by something hard, lint lies as it fell
    double mayBend = std::min(0.7 * s.meanWidth + 0.6 + 0.6 * pixel, mostBent);
    if (piece.atRim && s.meanWidth > broad && s.longer < slenderAtRim * s.meanWidth) return false;
    // lint that goes on beyond the rim shows little of its bend
    if (piece.atRim) mayBend = std::min(mayBend, 0.035 * s.longer + 0.4 + 0.4 * pixel);
    bool straight = piece.stroke || s.shorter - s.meanWidth < mayBend;
    // on the ferrule, where any scratch is allowed, a broad thing must run as straight as what is drawn by something hard
    if (straight && piece.region == Region::Ferrule && s.meanWidth > broad) straight = course.off < mostOff && course.bend < mostArc;
    // what winds plainly may be lint, however little: where it is open the stricter rule holds
    const bool mayBeLint = course.known && !piece.stroke && course.off > winds + windsPixel * pixel && std::abs(piece.contrast) > clearlyDrawn;
    return straight && !piece.hollow && !mayBeLint;
}

/// It winds by more than its outline can tell.
bool isLint(const Flattened& glass, const Piece& piece, const Shape& s, const Course& course, double ppu)
{
    if (piece.region != Region::Glass || piece.stroke || std::abs(piece.contrast) < faintestLint || !isWideAsLint(s.meanWidth)) return false;
    const auto winding = windingOf(glass.contrast, glass.origin, piece.contrast < 0 ? -1 : 1, piece, s, course, ppu);
    return winding && windsAsLint(*winding, s.meanWidth);
}

/// A thing along the rim of the glass is broken out of it; a scratch goes across.
bool isChip(const Piece& piece, const Shape& s, cv::Point2d centre, double claddingRadius)
{
    if (!piece.atRim || piece.region != Region::Glass || s.longer > longestChip) return false;
    const double contrast = std::abs(piece.contrast);
    if (contrast < faintestChip || (contrast < surelyChip && s.meanWidth < narrowestChip)) return false;
    const cv::Point2d out(double(piece.centre.x) - centre.x, double(piece.centre.y) - centre.y);
    if (std::hypot(out.x, out.y) < 0.75 * claddingRadius) return false;
    if (s.longer > slenderScratch * s.meanWidth) {  // a sliver follows the rim
        const double deepest = std::accumulate(piece.outline.begin(), piece.outline.end(), 1e9, [&](double least, const cv::Point2f& p) {
            return std::min(least, std::hypot(double(p.x) - centre.x, double(p.y) - centre.y));
        });
        if (deepest < sliverReach * claddingRadius) return false;
    }
    const double along = std::abs(double(s.along.x) * out.x + double(s.along.y) * out.y) / std::max(1e-6, std::hypot(out.x, out.y));
    return along < std::sin(tangential * std::numbers::pi / 180);
}

Appearance appearanceOf(const Piece& piece, const Shape& s)
{
    if (piece.hollow) return Appearance::Droplet;
    if (s.longer > 4 * s.meanWidth && s.longer > 15) return Appearance::Lint;
    if (piece.atRim && piece.region == Region::Glass) return Appearance::Chip;
    if (std::abs(piece.contrast) < 0.12 && s.longer > 8) return Appearance::Film;
    if (s.longer < 1.25 * s.shorter && s.longer < 8) return Appearance::Pit;
    return Appearance::Particle;
}

/// Diameter of the circle around it before the picture was blurred: of a disc, and more where corners were rounded off, in proportion to the blur;
/// the dark or bright rim of a droplet is seen from its outside. Fitted on synthetic faces with known truth, see docs/end-faces.md.
double sizeBeforeBlur(const Piece& piece, double ppu, double sigma)
{
    const double size = (2 * piece.radius + 0.25) / ppu;
    if (piece.hollow) return std::max(0.5 * size, size - 0.8 * sigma);
    const double round = piece.area / (std::numbers::pi * piece.radius * piece.radius + 1e-9);
    // the tips of slender things are narrower than the blur and fade
    const double faded = size < slimUpTo ? slimmer * std::clamp(1 / std::max(0.1, round) - slim, 0.0, slim) : 0;
    return discBeforeBlur(size, sigma) + sigma * (cornered * std::max(0.0, angular - round) + faded);
}

/// What a finding lies within: its nearest and farthest point, um from the centre.
std::pair<double, double> extent(const Piece& piece, cv::Point2d centre, double ppu, double claddingRadius)
{
    double nearest = 1e9, farthest = 0;
    for (const auto& p : piece.outline) {
        const double d = std::hypot(double(p.x) - centre.x, double(p.y) - centre.y) / ppu;
        nearest = std::min(nearest, d);
        farthest = std::max(farthest, d);
    }
    if (cv::pointPolygonTest(piece.outline, cv::Point2f(static_cast<float>(centre.x), static_cast<float>(centre.y)), false) >= 0) nearest = 0;
    // what reaches the ring that is not judged goes on in it
    if (piece.region == Region::Ferrule && piece.atRim && nearest < claddingRadius + nextToTheEdge) nearest = claddingRadius;
    return {nearest, farthest};
}

/// A piece with what is told of it.
struct Told {
    Piece piece;
    Shape shape;
    Course course;
    bool chip = false, scratch = false;
};

/// Puts in the place of long things that are neither scratch nor chip the lines that they may be made of; `tell` tells of each.
void takeApart(std::vector<Told>& things, const Flattened& glass, double ppu, const std::function<Told(const Piece&)>& tell)
{
    std::optional<DrawnLines> drawn;
    std::vector<Told> lines, others;
    int tried = 0;
    for (auto& thing : things) {
        const Piece& piece = thing.piece;
        const bool open =
            piece.region == Region::Glass && !piece.stroke && !piece.flake && !thing.chip && !thing.scratch && 2 * piece.radius > longEnough * ppu;
        const bool asked = open && tried < mostTried;
        if (asked && tried++ == 0) drawn.emplace(glass, ppu);
        const std::vector<Piece> apart = asked ? drawn->of(piece) : std::vector<Piece>();
        std::transform(apart.begin(), apart.end(), std::back_inserter(lines), tell);
        if (apart.empty()) others.push_back(std::move(thing));
    }
    std::erase_if(others, [&](const Told& other) {
        return std::any_of(lines.begin(), lines.end(), [&](const Told& line) { return drawn->hasPart(line.piece, other.piece); });
    });
    things = std::move(others);
    std::move(lines.begin(), lines.end(), std::back_inserter(things));
}

constexpr double lightReaches = 35;  // um from the centre: the widest core has 31
constexpr int mostPoints = 40;

/// The outline in as few points as show its shape.
std::vector<FacePoint> outlineOf(const Piece& piece, cv::Point2d centre, double ppu)
{
    std::vector<cv::Point2f> few;
    for (double apart = 0.1 * ppu; few.empty() || few.size() > mostPoints; apart *= 2) cv::approxPolyDP(piece.outline, few, apart, true);
    std::vector<FacePoint> out;
    for (const auto& p : few) out.push_back({Micrometre((double(p.x) - centre.x) / ppu), Micrometre((double(p.y) - centre.y) / ppu)});
    return out;
}

/// Blur of the optics, um. The edge bounds it, freed from what its pixels and reading between them add, and so does the narrowest thing seen: nothing
/// can be narrower than the blur.
double opticsOf(const std::vector<Piece>& pieces, const CladdingEdge& edge, double ppu)
{
    const double seen = edge.blur / ppu, read = std::hypot(betweenPixels, 1 / std::sqrt(12.0)) / ppu;
    const double edgeOptics = std::sqrt(std::max(leastOptics * leastOptics * seen * seen, seen * seen - read * read));
    double narrow = seen;
    for (const auto& p : pieces)
        if (p.region == Region::Glass) narrow = std::min(narrow, shapeOf(p, ppu).meanWidth / fwhm);
    return std::min(edgeOverOptics * edgeOptics, std::max(sharpOptics, 0.9 * narrow));
}

}  // namespace

double discBeforeBlur(double seen, double sigma)
{
    if (sigma <= 0) return seen;
    // how wide discs of these diameters are seen, all in sigmas: a table of what numerical integration gives; beyond it the shift of a curved edge
    constexpr std::array<std::pair<double, double>, 12> table{{{0, 2.355},
                                                               {0.5, 2.370},
                                                               {1, 2.428},
                                                               {1.5, 2.526},
                                                               {2, 2.669},
                                                               {2.5, 2.863},
                                                               {3, 3.115},
                                                               {3.5, 3.428},
                                                               {4, 3.797},
                                                               {5, 4.681},
                                                               {6, 5.675},
                                                               {8, 7.739}}};
    const double wide = seen / sigma;
    if (wide >= table.back().second) return seen + 2.09 * sigma * sigma / seen;
    for (std::size_t i = 1; i < table.size(); ++i)
        if (wide < table[i].second) {
            const double part = std::max(0.0, (wide - table[i - 1].second) / (table[i].second - table[i - 1].second));
            return sigma * std::max(smallest, table[i - 1].first + part * (table[i].first - table[i - 1].first));
        }
    return seen;
}

std::optional<double> sharpestSeen(const std::vector<Piece>& pieces, double ppu)
{
    std::vector<double> widths;
    for (const auto& p : pieces)
        if (p.region == Region::Glass && std::abs(p.contrast) >= clearly) widths.push_back(shapeOf(p, ppu).meanWidth / fwhm);
    if (widths.size() < 2) return std::nullopt;
    std::nth_element(widths.begin(), widths.begin() + 1, widths.end());
    return widths[1];
}

std::vector<Finding> describe(const std::vector<Piece>& pieces, const CladdingEdge& edge, double ppu, const Flattened* glass)
{
    std::vector<Finding> findings;
    const cv::Point2d centre(edge.circle.x, edge.circle.y);
    const double optics = opticsOf(pieces, edge, ppu), pixel = 1 / (ppu * std::sqrt(12.0));
    const double noise = glass ? noiseOf(*glass) : 0, sharp = ppu * std::hypot(std::min(optics, sharpOptics), pixel);  // pixels
    const auto sigmaOf = [&](const Piece& piece) { return std::hypot(std::hypot(optics, piece.smoothing / ppu), pixel); };
    const auto tell = [&](const Piece& piece) {
        Told thing;
        thing.piece = piece;
        const Shape& s = thing.shape = shapeOf(piece, ppu);
        if (s.longer > leastSlender * s.meanWidth) thing.course = courseOf(piece, s, 1 / ppu);
        thing.chip = isChip(piece, s, centre, edge.circle.radius);
        thing.scratch =
            !thing.chip && isScratch(piece, s, thing.course, 1 / ppu, sigmaOf(piece)) && !(glass && isLint(*glass, piece, s, thing.course, ppu));
        return thing;
    };
    std::vector<Told> things;
    std::transform(pieces.begin(), pieces.end(), std::back_inserter(things), tell);
    if (glass) takeApart(things, *glass, ppu, tell);
    std::optional<SmallDiscs> discs;
    if (glass) discs.emplace(*glass, sharp, noise);
    for (const auto& [piece, s, course, chip, scratch] : things) {
        const double sigma = sigmaOf(piece);
        Finding f;
        f.kind = scratch ? FindingKind::Scratch : FindingKind::Defect;
        f.appearance = scratch ? Appearance::Scratch : appearanceOf(piece, s);
        f.centre = {Micrometre((double(piece.centre.x) - centre.x) / ppu), Micrometre((double(piece.centre.y) - centre.y) / ppu)};
        f.size = Micrometre(scratch ? (2 * piece.radius + 0.25) / ppu : sizeBeforeBlur(piece, ppu, sigma));
        const auto ring = glass && !scratch ? ringDiameter(*glass, piece, sharp, noise) : std::nullopt;
        if (ring) {
            if (std::abs(piece.contrast) < clearDroplet) f.appearance = Appearance::Droplet;
            f.size = Micrometre(*ring / ppu);
        } else if (const double w = discs && !scratch ? discs->weight(piece) : 0; w > 0) {  // noise makes outlines larger, never smaller
            f.size = std::min(f.size, Micrometre((1 - w) * f.size.value() + w * discs->diameter(piece) / ppu));
        }
        f.length = Micrometre(s.longer);
        f.width = Micrometre(s.shorter);
        if (scratch) {
            const auto across = glass && piece.region == Region::Glass
                                    ? lineWidth(*glass, piece, s, course, ppu, std::hypot(std::hypot(optics, pixel), betweenPixels / ppu))
                                    : std::nullopt;
            f.width = Micrometre(std::max(narrowest, across ? *across : std::max(toldApart * sigma, widthBeforeBlur(s.meanWidth, sigma))));
        }
        f.contrast = piece.contrast;
        const auto [nearest, farthest] = extent(piece, centre, ppu, edge.circle.radius / ppu);
        f.nearest = Micrometre(nearest);
        f.farthest = Micrometre(farthest);
        if (nearest < lightReaches) f.outline = outlineOf(piece, centre, ppu);
        findings.push_back(f);
    }
    std::vector<Piece> told;
    std::transform(things.begin(), things.end(), std::back_inserter(told), [](Told& thing) { return std::move(thing.piece); });
    leaveOutLinesWithin(findings, told, ppu);
    std::sort(findings.begin(), findings.end(), [](const Finding& a, const Finding& b) { return a.nearest < b.nearest; });
    for (std::size_t i = 0; i < findings.size(); ++i) findings[i].id = static_cast<int>(i) + 1;
    return findings;
}

}  // namespace clendo::face
