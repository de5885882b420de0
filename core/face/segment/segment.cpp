#include "face/segment/segment.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <optional>
#include <utility>

#include "face/find/axis.h"
#include "face/find/circle_fit.h"
#include "face/noise/map_noise.h"
#include "face/segment/broken_rim.h"
#include "face/segment/faint_lines.h"
#include "face/segment/film_parts.h"
#include "face/segment/flanks.h"
#include "face/segment/in_line.h"
#include "face/segment/levels.h"
#include "face/segment/lint_beyond.h"
#include "face/segment/not_yet_known.h"
#include "face/segment/piece_finder.h"
#include "face/segment/seen_twice.h"
#include "face/segment/straight.h"
#include "face/segment/strokes.h"
#include "face/segment/tips.h"

namespace clendo::face {
namespace {

constexpr double leastGlass = 0.045;             // contrast from which a thing in the glass is looked at
constexpr double fineUm = 0.2, leastFine = 0.4;  // sigma of the map in which things on the ferrule are told; px
constexpr double noiseFactor = 4.8, ferruleNoiseFactor = 5.5;
constexpr double starStrokes = 1.3;
constexpr double sliverUm = 3;
constexpr double arcUm = 30, holeOffUm = 6, widestHoleUm = 14, arcOffUm = 1.3, longArcOffUm = 2.6;  // the outer edge of the adhesive
constexpr int arcSectors = 10, longArcSectors = 18;                                                 // of 72: 50 and 90 degrees
constexpr double slenderUm = 8, slenderShare = 0.35;  // length of a thin thing, and what it fills of its circle

cv::Mat1f smoothed(const cv::Mat1f& map, double sigma)
{
    cv::Mat1f out;
    cv::GaussianBlur(map, out, {}, std::max(0.3, sigma));
    return out;
}

/// How a piece lies beside the cladding: radii in pixels, and how many of 72 sectors it covers.
struct BesideCladding {
    double low = 1e9, high = 0;
    int sectors = 0;
    [[nodiscard]] double along(double radius) const { return sectors * 5 * std::numbers::pi / 180 * radius; }
};

BesideCladding besideCladding(const Piece& piece, const Circle& cladding)
{
    BesideCladding b;
    std::array<bool, 72> seen{};
    for (const auto& p : piece.outline) {
        const double dx = double(p.x) - cladding.x, dy = double(p.y) - cladding.y, r = std::hypot(dx, dy);
        b.low = std::min(b.low, r);
        b.high = std::max(b.high, r);
        seen[static_cast<std::size_t>((std::atan2(dy, dx) + std::numbers::pi) / (2 * std::numbers::pi) * 71.99)] = true;
    }
    b.sectors = static_cast<int>(std::count(seen.begin(), seen.end(), true));
    return b;
}

/// A crescent beside the cladding: the hole is larger than the fibre. Not something that lies on the face.
bool belongsToTheHole(const Piece& piece, const Circle& cladding)
{
    if (piece.region != Region::Ferrule || !piece.atRim) return false;
    const auto b = besideCladding(piece, cladding);
    return b.sectors >= 6 && b.high - b.low < 0.6 * b.along(cladding.radius);
}

/// The outer edge of a wide, eccentric or uneven ring of adhesive: an arc around the glass.
bool isEdgeOfTheHole(const Piece& piece, const Circle& cladding, double ppu)
{
    if (piece.region != Region::Ferrule || 2 * piece.radius < arcUm * ppu) return false;
    const int sectors = besideCladding(piece, cladding).sectors;
    if (sectors < arcSectors) return false;
    const auto arc = circleThrough(piece.outline);
    if (!arc || std::hypot(arc->x - cladding.x, arc->y - cladding.y) > holeOffUm * ppu || arc->radius < cladding.radius ||
        arc->radius > cladding.radius + widestHoleUm * ppu)
        return false;
    return offCircle(piece.outline, *arc) < (sectors < longArcSectors ? arcOffUm : longArcOffUm) * ppu;
}

/// A sliver along the glass, or a thing that ends at the border of a window, `across` and more from the glass: neither goes on in it.
bool staysOut(const Piece& piece, const Circle& cladding, double across, double ppu)
{
    if (piece.region != Region::Ferrule || !piece.atRim) return false;
    const auto b = besideCladding(piece, cladding);
    const bool sliver = b.high - b.low < sliverUm * ppu && 2 * piece.radius > 2 * (b.high - b.low);
    return sliver || b.low > cladding.radius + across;
}

/// What averaging along lines makes of a speck: strokes all round it.
bool isStar(const Piece& piece, double ppu) { return 2 * piece.radius < starStrokes * strokeUm * ppu && !straightAxis(piece, ppu); }

void segmentGlass(const Flattened& f, const SegmentOptions& o, std::vector<Piece>& pieces)
{
    const double ppu = o.pixelsPerMicrometre;
    struct Map {
        cv::Mat1f map;
        double threshold, noise, smoothing;
    };
    const auto mapOf = [&](cv::Mat1f map, double smoothing) {
        const double noise = noiseFactor * std::max(f.lost, noiseOf(map, f.judged));
        return Map{std::move(map), std::max(leastGlass, noise), noise, smoothing};
    };
    const auto strokesOf = [&](const Map& m, double smoothing) {
        cv::Mat1f map = strokes(m.map, strokeUm * ppu);
        const auto [typical, spread] = strengthsOf(map, f.judged);
        const double noise = std::max(noiseFactor * f.lost, typical + strokeFactor * spread);
        return Map{std::move(map), std::max(leastGlass, noise), noise, smoothing};
    };
    const double little = std::max(0.5, 0.5 * o.blur), much = ppu + o.blur;
    const Map sharp = mapOf(smoothed(f.contrast, little), little);
    const auto finderIn = [&](const Map& m) {
        return PieceFinder(f, m.map, {Region::Glass, m.threshold, leastGlass, m.noise, ppu, o.blur, m.smoothing});
    };
    // averaging over an area or along a line pays only where noise, not the least contrast, sets the threshold
    std::optional<Map> wide, along;
    if (sharp.threshold > 1.05 * leastGlass) {
        const auto calmer = [&](Map m) { return m.threshold > 0.95 * sharp.threshold ? std::nullopt : std::optional(std::move(m)); };
        wide = calmer(mapOf(smoothed(f.contrast, much), much));
        along = calmer(strokesOf(sharp, little));
    }
    for (const double sign : {-1.0, 1.0}) {
        const std::size_t before = pieces.size();
        finderIn(sharp).find(finderIn(sharp).seeds(sign), sign, pieces);
        if (wide && pieces.size() - before >= fewestFilmParts) {
            std::vector<Piece> calm;
            finderIn(*wide).find(finderIn(*wide).seeds(sign), sign, calm);
            joinFilmParts(pieces, before, calm, ppu);
        }
        if (along) {
            std::vector<Piece> hints;
            finderIn(*along).find(finderIn(*along).seeds(sign), sign, hints);
            followLines(hints, {sharp.map, f, sign, sharp.threshold / noiseFactor, little, ppu, leastGlass}, pieces);
        }
        if (wide) {
            const PieceFinder calm = finderIn(*wide);
            const Beside beside = besideKnown(calm.seeds(sign), pieces, f, ppu, 2 * much);
            cv::Mat1b farBeyond;
            if (beside.more) {
                const Map rest{smoothed(withoutKnown(f, pieces, 2 * o.blur + 1), much), wide->threshold, wide->noise, wide->smoothing};
                farBeyond = farBeyondKnown(finderIn(rest).seeds(sign), pieces, f, ppu);
            }
            calm.find(beside.seeds, sign, pieces);
            if (beside.more) calm.find(farBeyond, sign, pieces);
        }
        if (along) {
            std::vector<Piece> found;
            finderIn(*along).find(notYetKnown(finderIn(*along).seeds(sign), pieces, f, ppu), sign, found);
            std::copy_if(found.begin(), found.end(), std::back_inserter(pieces), [&](const Piece& p) { return !isStar(p, ppu); });
        }
    }
}

void segmentFerrule(const Flattened& f, const SegmentOptions& o, std::vector<Piece>& pieces)
{
    if (f.empty()) return;
    const double ppu = o.pixelsPerMicrometre / f.reduction, calm = std::max(calmUm * ppu, leastCalm), little = std::max(fineUm * ppu, leastFine);
    const cv::Mat1f map = smoothed(f.contrast, calm), fine = smoothed(f.contrast, little);
    const double noise = ferruleNoiseFactor * noiseOf(map, f.judged), threshold = std::max(leastOnFerrule, noise);
    const PieceFinder found(f, map, {Region::Ferrule, threshold, leastOnFerrule, noise, ppu, o.blur / f.reduction, calm});
    const PieceFinder told(f, fine, {Region::Ferrule, threshold, leastOnFerrule, noise, ppu, o.blur / f.reduction, little});
    for (const double sign : {-1.0, 1.0}) told.find(found.seeds(sign), sign, pieces);
}

/// A thin thing that reaches the edge of the glass: beyond it lint bends, a scratch does not.
bool mayGoOn(const Piece& piece, double ppu)
{
    return piece.atRim && 2 * piece.radius > slenderUm * ppu && piece.area < slenderShare * std::numbers::pi * piece.radius * piece.radius;
}

}  // namespace

std::vector<Piece> segment(const Flattened& glass, const std::function<Flattened()>& ferrule, const SegmentOptions& o)
{
    std::vector<Piece> pieces;
    segmentGlass(glass, o, pieces);
    std::vector<Piece> thin;
    std::copy_if(pieces.begin(), pieces.end(), std::back_inserter(thin), [&](const Piece& p) { return mayGoOn(p, o.pixelsPerMicrometre); });
    Flattened around;
    if (o.judgeFerrule || !thin.empty()) {
        around = ferrule();
        segmentFerrule(around, o, pieces);
        if (!o.judgeFerrule) {
            std::erase_if(thin, [&](const Piece& p) { return straightAxis(p, o.pixelsPerMicrometre).has_value(); });
            for (Piece& line : lintBeyond(thin, around, o)) pieces.push_back(std::move(line));
        }
    }
    // where the ferrule is asked only how a thin thing goes on, that may be along the rim, like the crescent of a wide hole
    if (o.judgeFerrule)
        std::erase_if(pieces,
                      [&](const Piece& p) { return belongsToTheHole(p, o.cladding) || isEdgeOfTheHole(p, o.cladding, o.pixelsPerMicrometre); });
    // what goes on may run within the adhesive for a while
    const double across = (o.judgeFerrule ? 1 : 2.5) * o.unjudged + o.pixelsPerMicrometre;
    for (auto& p : pieces) p.staysOut = staysOut(p, o.cladding, across, o.pixelsPerMicrometre);
    joinPieces(pieces, {o.pixelsPerMicrometre, o.blur, across, glass.rounding});
    if (!o.judgeFerrule) std::erase_if(pieces, [](const Piece& p) { return p.region == Region::Ferrule; });
    joinBrokenRims(pieces, glass, o.pixelsPerMicrometre);
    std::vector<Piece> out;
    for (auto& piece : pieces)
        for (auto& part : splitStrokes(std::move(piece), o.pixelsPerMicrometre)) out.push_back(std::move(part));
    joinInLine(out, o.pixelsPerMicrometre, &glass, &around);
    joinFlanks(out, o.pixelsPerMicrometre);
    joinTips(out, o.pixelsPerMicrometre);
    leaveOutSeenTwice(out, o.pixelsPerMicrometre);
    return out;
}

}  // namespace clendo::face
