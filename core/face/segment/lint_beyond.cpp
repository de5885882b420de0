#include "face/segment/lint_beyond.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "face/noise/map_noise.h"
#include "face/segment/levels.h"
#include "face/segment/piece_finder.h"
#include "face/segment/strokes.h"

namespace clendo::face {
namespace {

constexpr float darkest = -0.95F;  // no light: its logarithm has no end
constexpr double besideUm = 6;     // beyond the band that is not judged: where it may begin

}  // namespace

std::vector<Piece> lintBeyond(const std::vector<Piece>& bent, const Flattened& ferrule, const SegmentOptions& o)
{
    if (bent.empty() || ferrule.empty()) return {};
    const double ppu = o.pixelsPerMicrometre / ferrule.reduction, sigma = std::max(calmUm * ppu, leastCalm);
    cv::Mat1f level;
    cv::GaussianBlur(ferrule.contrast, level, {}, sigma);
    // of a dark ferrule bright grain is far brighter than dark lint can be dark: as logarithms they are alike
    for (float& v : level) v = std::log1p(std::max(v, darkest));
    const cv::Mat1f map = strokes(level, strokeUm * ppu);
    const auto [typical, spread] = strengthsOf(map, ferrule.judged);
    const double noise = typical + strokeFactor * spread;
    const PieceFinder finder(ferrule, map,
                             {Region::Ferrule, std::max(leastOnFerrule, noise), leastOnFerrule, noise, ppu, o.blur / ferrule.reduction, sigma});
    std::vector<Piece> lines;
    for (const double sign : {-1.0, 1.0}) finder.find(finder.seeds(sign), sign, lines);
    const double beside = o.unjudged + besideUm * o.pixelsPerMicrometre;
    std::erase_if(lines, [&](const Piece& line) {
        return std::none_of(bent.begin(), bent.end(), [&](const Piece& thing) { return gapBetween(thing, line, beside) < beside; });
    });
    return lines;
}

}  // namespace clendo::face
