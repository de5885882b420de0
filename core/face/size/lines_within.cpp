#include "face/size/lines_within.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include "face/find/axis.h"

namespace clendo::face {
namespace {

constexpr double mostAskew = 4;      // degrees
constexpr double leastBeside = 0.7;  // of the shorter line's length

bool liesWithin(const Finding& inner, const LinePiece& a, const Finding& outer, const LinePiece& b, double ppu)
{
    if (std::abs(a.axis.along.dot(b.axis.along)) < std::cos(mostAskew * std::numbers::pi / 180)) return false;
    double low = 1e9, high = -1e9, farthest = 0;
    for (const double end : {a.low, a.high}) {
        const cv::Point2f p(a.axis.middle + end * a.axis.along);
        low = std::min(low, b.along(p));
        high = std::max(high, b.along(p));
        farthest = std::max(farthest, b.axis.aside(p));
    }
    const double reach = (inner.width + outer.width).value() / 2 * ppu;
    return farthest < reach && std::min(high, b.high) - std::max(low, b.low) > leastBeside * a.length();
}

}  // namespace

void leaveOutLinesWithin(std::vector<Finding>& findings, const std::vector<Piece>& pieces, double ppu)
{
    std::vector<std::optional<LinePiece>> lines(findings.size());
    for (std::size_t i = 0; i < findings.size(); ++i)
        if (findings[i].kind == FindingKind::Scratch) lines[i] = straightLine(pieces[i], ppu);
    std::vector<Finding> kept;
    for (std::size_t i = 0; i < findings.size(); ++i) {
        bool within = false;
        for (std::size_t k = 0; k < findings.size() && lines[i] && !within; ++k) {
            if (k == i || !lines[k]) continue;
            const auto larger = [&](std::size_t n) { return std::pair(findings[n].width, findings[n].size); };
            within = (larger(i) < larger(k) || (larger(i) == larger(k) && i > k)) && lines[i]->length() < 1.2 * lines[k]->length() &&
                     liesWithin(findings[i], *lines[i], findings[k], *lines[k], ppu);
        }
        if (!within) kept.push_back(findings[i]);
    }
    findings = std::move(kept);
}

}  // namespace clendo::face
