#include "face/segment/in_line.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <optional>

#include "face/noise/map_noise.h"
#include "face/segment/straight_fit.h"

namespace clendo::face {
namespace {

constexpr double widestUm = 7;
constexpr double mostAskew = 12;                        // degrees between pieces of one line
constexpr double oneLineUm = 0.7;                       // apart: no scope shows two scratches there
constexpr double longestGapUm = 30;                     // within which a line is followed by what shows of it
constexpr double surelyGoesOn = 4, leastBetween = 0.3;  // sigmas; of the weaker piece's contrast
constexpr double nearUm = 0.5, besideUm = 2;            // of the middle of a line; beyond it, to where its surroundings end
constexpr double wayUm = 2, outOfGrain = 1.3;           // from one way beside to the next; times what shows most on them
constexpr int waysBeside = 6;                           // on each side
constexpr int fewest = 4;                               // pixels

std::optional<Straight> asLine(const Piece& p, double ppu)
{
    if (p.area > 0.5 * std::numbers::pi * p.radius * p.radius) return std::nullopt;  // round: the usual case, and a fit costs
    const Straight s = fitted(p.outline);
    const double meanWidth = p.area / std::max(1.0, s.length);
    if (s.length < 2.5 * ppu || s.length < 2.2 * meanWidth || meanWidth > widestUm * ppu) return std::nullopt;
    return s;
}

/// The end of a line that is nearer to a place.
cv::Point2d endNear(const Straight& line, cv::Point2f place)
{
    const cv::Point2f one = line.middle + line.along * static_cast<float>(line.length / 2),
                      other = line.middle - line.along * static_cast<float>(line.length / 2);
    return cv::norm(one - place) < cv::norm(other - place) ? one : other;
}

/// What the map has along a way against what lies on both sides of it.
struct Along {
    double shows = 0;
    int pixels = 0;  ///< that it is the mean of
};
std::optional<Along> contrastAlong(const Flattened& f, cv::Point2d from, cv::Point2d way, double ppu)
{
    const double length = cv::norm(way);
    const cv::Point2d along = way / length, across(-along.y, along.x);
    double on = 0, beside = 0;
    int ons = 0, besides = 0;
    const int near = std::max(1, cvRound(nearUm * ppu)), far = near + std::max(3, cvRound(besideUm * ppu));
    for (double t = 1; t < length; t += 1)
        for (int u = -far; u <= far; ++u) {
            const cv::Point at(from + t * along + double(u) * across);
            if (at.x < 0 || at.y < 0 || at.x >= f.contrast.cols || at.y >= f.contrast.rows || !f.judged(at)) continue;
            const double v = double(f.contrast(at));
            if (std::abs(u) <= near) {
                on += v;
                ++ons;
            } else if (std::abs(u) > near + 1) {
                beside += v;
                ++besides;
            }
        }
    if (ons < fewest || besides < fewest) return std::nullopt;
    return Along{on / ons - beside / besides, ons};
}

/// Whether a way shows more than any beside it: the ferrule's grain hangs together, so that its noise does not tell what it makes of a mean.
bool standsOutOfGrain(const Flattened& ferrule, double shows, cv::Point2d from, cv::Point2d way, double ppu)
{
    const cv::Point2d across = cv::Point2d(-way.y, way.x) / cv::norm(way);
    double most = 0;
    int asked = 0;
    for (int i = 1; i <= waysBeside; ++i)
        for (const int side : {-1, 1})
            if (const auto other = contrastAlong(ferrule, from + across * (side * i * wayUm * ppu), way, ppu)) {
                most = std::max(most, std::abs(other->shows));
                ++asked;
            }
    return asked >= waysBeside && shows > outOfGrain * most;
}

/// Whether the picture shows, between two pieces of a line, that it goes on: its contrast on the way from one to the other against that beside it.
bool showsBetween(const Flattened& f, Region region, const Straight& a, const Straight& b, double contrast, double pixelsPerUm)
{
    const double ppu = pixelsPerUm / f.reduction;
    const auto inMap = [&](cv::Point2d p) { return (p - f.origin) / f.reduction; };
    const cv::Point2d from = inMap(endNear(a, b.middle)), way = inMap(endNear(b, a.middle)) - from;
    const double length = cv::norm(way);
    if (length < 2 || length > longestGapUm * ppu) return false;
    const auto between = contrastAlong(f, from, way, ppu);
    if (!between) return false;
    const double shows = between->shows * (contrast < 0 ? -1 : 1);
    if (shows < leastBetween * std::abs(contrast)) return false;
    if (region == Region::Ferrule) return standsOutOfGrain(f, shows, from, way, ppu);
    return shows > surelyGoesOn * noiseOf(f) / std::sqrt(double(between->pixels));
}

bool inLine(const Straight& a, const Straight& b, double ppu, const std::function<bool()>& goesOn)
{
    // a short piece has no direction of its own worth asking
    const Straight& longer = a.length >= b.length ? a : b;
    const Straight& shorter = a.length >= b.length ? b : a;
    const bool both = shorter.length > 6 * ppu;
    if (angleBetween(a.along, b.along) > (both ? mostAskew : 3 * mostAskew)) return false;
    const cv::Point2f between = shorter.middle - longer.middle;
    const double gap = std::abs(double(between.dot(longer.along))) - (a.length + b.length) / 2;
    const double off = std::abs(cross(longer.along, between));
    const bool oneLine = both && off < oneLineUm * ppu;  // seen twice, in pieces that lie between each other
    if ((gap < -0.5 * shorter.length && !oneLine) || off > 0.7 * ppu + 0.03 * std::max(0.0, gap + longer.length / 2)) return false;
    return gap < std::min(0.4 * longer.length + ppu, 8 * ppu) || goesOn();
}

/// Is the piece only a part of this line that stands out? Dirt on a scratch stands out more, or is wider.
bool partOf(const Straight& line, const Piece& whole, const Piece& piece, double ppu)
{
    if (piece.region != whole.region || piece.contrast * whole.contrast < 0 || std::abs(piece.contrast) > 1.3 * std::abs(whole.contrast))
        return false;
    if (2 * piece.radius > 0.6 * line.length) return false;
    const double bent = line.width - whole.area / line.length;  // lint: its outline lies farther from the axis than it is wide
    if (bent > 0.6 * ppu) return false;
    const double reach = line.width / 2 + 1.4 * ppu;
    const auto on = std::count_if(piece.outline.begin(), piece.outline.end(), [&](const cv::Point2f& p) {
        return std::abs(cross(line.along, p - line.middle)) < reach && std::abs(double((p - line.middle).dot(line.along))) < line.length / 2 + ppu;
    });
    return double(on) > 0.8 * double(piece.outline.size());
}

/// Leaves out pieces that are part of a line found already.
void absorb(std::vector<Piece>& pieces, double ppu)
{
    std::vector<std::optional<Straight>> lines;
    lines.reserve(pieces.size());
    for (const auto& p : pieces) lines.push_back(2 * p.radius > 8 * ppu ? asLine(p, ppu) : std::nullopt);
    std::vector<Piece> kept;
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        bool part = false;
        for (std::size_t k = 0; k < pieces.size() && !part; ++k) part = k != i && lines[k] && partOf(*lines[k], pieces[k], pieces[i], ppu);
        if (!part) kept.push_back(std::move(pieces[i]));
    }
    pieces = std::move(kept);
}

}  // namespace

void joinInLine(std::vector<Piece>& pieces, double ppu, const Flattened* glass, const Flattened* ferrule)
{
    absorb(pieces, ppu);
    for (bool again = true; again;) {
        again = false;
        std::vector<std::optional<Straight>> lines;
        lines.reserve(pieces.size());
        for (const auto& p : pieces) lines.push_back(asLine(p, ppu));
        for (std::size_t i = 0; i < pieces.size() && !again; ++i)
            for (std::size_t k = i + 1; k < pieces.size() && !again; ++k) {
                if (!lines[i] || !lines[k] || pieces[i].region != pieces[k].region || pieces[i].contrast * pieces[k].contrast < 0) continue;
                const double strong = std::max(std::abs(pieces[i].contrast), std::abs(pieces[k].contrast)),
                             weak = std::min(std::abs(pieces[i].contrast), std::abs(pieces[k].contrast));
                if (weak < 0.4 * strong) continue;
                const auto goesOn = [&] {
                    const Flattened* there = pieces[i].region == Region::Glass ? glass : ferrule;
                    return there && !there->empty() &&
                           showsBetween(*there, pieces[i].region, *lines[i], *lines[k], std::copysign(weak, pieces[i].contrast), ppu);
                };
                if (!inLine(*lines[i], *lines[k], ppu, goesOn)) continue;
                Piece& a = pieces[i];
                a.add(pieces[k]);
                a.area *= 2 * a.radius / (lines[i]->length + lines[k]->length);  // the gap is as wide as what is seen of it
                a.stroke = true;
                pieces.erase(pieces.begin() + static_cast<std::ptrdiff_t>(k));
                again = true;
            }
    }
    absorb(pieces, ppu);  // by lines that are whole now
}

}  // namespace clendo::face
