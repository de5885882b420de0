#include "face/segment/flanks.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include "face/find/axis.h"

namespace clendo::face {
namespace {

constexpr double shortestUm = 8;                         // of a flank
constexpr double widestUm = 5;                           // between the middles of both
constexpr double mostAskew = 5;                          // degrees between them
constexpr double leastShare = 0.4;                       // of the stronger one's contrast: less is its halo
constexpr double leastCommon = 0.75, leastAlike = 0.75;  // of the shorter one beside the longer; of their lengths

std::optional<LinePiece> flankOf(const Piece& piece, double ppu)
{
    if (piece.hollow || piece.region != Region::Glass || 2 * piece.radius < shortestUm * ppu) return std::nullopt;
    return straightLine(piece, ppu);
}

/// Distance between the middles of two flanks of one groove; nothing where they are none.
std::optional<double> acrossGroove(const Piece& a, const LinePiece& fa, const Piece& b, const LinePiece& fb, double ppu)
{
    const double strong = std::max(std::abs(a.contrast), std::abs(b.contrast)), weak = std::min(std::abs(a.contrast), std::abs(b.contrast));
    if (a.contrast * b.contrast >= 0 || weak < leastShare * strong) return std::nullopt;
    if (std::abs(fa.axis.along.dot(fb.axis.along)) < std::cos(mostAskew * std::numbers::pi / 180)) return std::nullopt;
    const double longer = std::max(fa.length(), fb.length()), shorter = std::min(fa.length(), fb.length());
    if (shorter < leastAlike * longer) return std::nullopt;
    double low = 1e9, high = -1e9;
    for (const double end : {fb.low, fb.high}) {
        const double t = (fb.axis.middle + end * fb.axis.along - fa.axis.middle).dot(fa.axis.along);
        low = std::min(low, t);
        high = std::max(high, t);
    }
    if (std::min(high, fa.high) - std::max(low, fa.low) < leastCommon * shorter) return std::nullopt;
    const double apart = fa.axis.aside(cv::Point2f(fb.axis.middle + (fb.low + fb.high) / 2 * fb.axis.along));
    return apart < widestUm * ppu ? std::optional(apart) : std::nullopt;
}

}  // namespace

void joinFlanks(std::vector<Piece>& pieces, double ppu)
{
    std::vector<std::optional<LinePiece>> flanks;
    for (const Piece& p : pieces) flanks.push_back(flankOf(p, ppu));
    for (std::size_t i = 0; i < pieces.size(); ++i)
        for (std::size_t k = i + 1; k < pieces.size(); ++k) {
            const auto apart = flanks[i] && flanks[k] ? acrossGroove(pieces[i], *flanks[i], pieces[k], *flanks[k], ppu) : std::nullopt;
            if (!apart) continue;
            Piece& a = pieces[i];
            const double width = *apart + (flanks[i]->width + flanks[k]->width) / 2;
            a.add(pieces[k]);
            a.stroke = true;
            a.area = width * 2 * a.radius;
            flanks[i].reset();  // a groove has two
            pieces.erase(pieces.begin() + static_cast<std::ptrdiff_t>(k));
            flanks.erase(flanks.begin() + static_cast<std::ptrdiff_t>(k));
            break;
        }
}

}  // namespace clendo::face
