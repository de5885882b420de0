#include "face/size/lines_within.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>
#include <tuple>

#include "face/find/axis.h"

namespace clendo::face {
namespace {

constexpr double mostAskew = 4;      // degrees
constexpr double leastBeside = 0.7;  // of its length
constexpr double mostLonger = 1.2;   // times the length of the wider one

bool liesWithin(const Finding& inner, const LinePiece& a, const Finding& outer, const LinePiece& b, double ppu)
{
    if (a.length() > mostLonger * b.length()) return false;
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
    // of two that are as wide the longer one stays, of equals the first
    const auto smaller = [&](std::size_t i, std::size_t k) {
        const auto rank = [&](std::size_t n) { return std::tuple(findings[n].width, findings[n].size, -std::ptrdiff_t(n)); };
        return rank(i) < rank(k);
    };
    std::vector<Finding> kept;
    for (std::size_t i = 0; i < findings.size(); ++i) {
        bool within = false;
        for (std::size_t k = 0; k < findings.size() && lines[i] && !within; ++k)
            within = lines[k] && smaller(i, k) && liesWithin(findings[i], *lines[i], findings[k], *lines[k], ppu);
        if (!within) kept.push_back(findings[i]);
    }
    findings = std::move(kept);
}

}  // namespace clendo::face
