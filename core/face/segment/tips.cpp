#include "face/segment/tips.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "face/find/axis.h"

namespace clendo::face {
namespace {

constexpr double shortestUm = 8;                    // of a line that has tips
constexpr double slender = 4;                       // its length over its width
constexpr double mostShare = 0.6;                   // of the line's contrast: what is stronger lies there by itself
constexpr double longestTip = 3, longestTipUm = 4;  // widths of the line, and um more
constexpr double mostOfLine = 0.35;                 // of the line's length
constexpr double asideUm = 0.7, leastOn = 0.8;      // beside the line; of the tip's outline
constexpr double apartUm = 1.5;                     // between the line and its tip

bool isTipOf(const LinePiece& line, const Piece& whole, const Piece& tip, double ppu)
{
    const double share = tip.contrast / whole.contrast;
    if (tip.region != whole.region || share <= 0 || share > mostShare) return false;
    if (2 * tip.radius > std::min(mostOfLine * line.length(), longestTip * line.width + longestTipUm * ppu)) return false;
    double low = 1e9, high = -1e9;
    std::size_t on = 0;
    for (const auto& p : tip.outline) {
        low = std::min(low, line.along(p));
        high = std::max(high, line.along(p));
        on += line.axis.aside(p) < line.width / 2 + asideUm * ppu ? 1 : 0;
    }
    const double apart = apartUm * ppu;
    const bool after = high > line.high && low < line.high + apart, before = low < line.low && high > line.low - apart;
    return (after || before) && double(on) > leastOn * double(tip.outline.size());
}

}  // namespace

void joinTips(std::vector<Piece>& pieces, double ppu)
{
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        if (pieces[i].region != Region::Glass || pieces[i].hollow || 2 * pieces[i].radius < shortestUm * ppu) continue;
        const auto line = straightLine(pieces[i], ppu);
        if (!line || line->length() < slender * line->width) continue;
        for (std::size_t k = 0; k < pieces.size();) {
            if (k == i || !isTipOf(*line, pieces[i], pieces[k], ppu)) {
                ++k;
                continue;
            }
            Piece& whole = pieces[i];
            whole.add(pieces[k]);
            pieces.erase(pieces.begin() + static_cast<std::ptrdiff_t>(k));
            if (k < i) --i;
        }
    }
}

}  // namespace clendo::face
