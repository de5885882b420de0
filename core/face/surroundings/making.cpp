#include "face/surroundings/making.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <span>

#include "face/median.h"

namespace clendo::face {
namespace {

constexpr int sectors = 36, perSector = 4;
constexpr double reach = 16, step = 0.5;  // um behind the cladding's edge
constexpr double darkShare = 0.62;        // of the ferrule's level: a gap shows no glass and no ferrule
constexpr double wideGap = 3.3;           // um; the adhesive line of a good ferrule is 1 to 2 wide
constexpr double shadowDip = 0.05;        // share by which a shadow dims the ferrule 2.5 to 6 um behind the edge
constexpr int chipsOfARaggedRim = 4;
constexpr double coarse = 0.22;  // scatter of the ferrule's light against its level

double sample(const cv::Mat1b& picture, double x, double y)
{
    const int px = cvRound(x), py = cvRound(y);
    return px < 0 || py < 0 || px >= picture.cols || py >= picture.rows ? -1 : picture(py, px);
}

double median(std::vector<double> values) { return values.empty() ? 0 : medianOf(std::span(values)); }

/// The levels behind the edge in one sector, each relative to the ferrule farther out; empty where the frame cuts it off.
std::vector<double> levelsBehind(const cv::Mat1b& picture, const CladdingEdge& edge, double pxPerUm, int sector, double ferrule)
{
    std::vector<double> levels;
    levels.reserve(static_cast<std::size_t>(reach / step));
    std::array<double, perSector> across;
    std::array<std::pair<double, double>, perSector> directions;
    for (int k = 0; k < perSector; ++k) {
        const double angle = 2 * std::numbers::pi * (sector + (k + 0.5) / perSector) / sectors;
        directions[static_cast<std::size_t>(k)] = {std::cos(angle), std::sin(angle)};
    }
    for (double out = 0.5; out < reach; out += step) {
        const double r = edge.circle.radius + out * pxPerUm;
        for (std::size_t k = 0; k < perSector; ++k) {
            const auto [dx, dy] = directions[k];
            across[k] = sample(picture, edge.circle.x + r * dx, edge.circle.y + r * dy);
            if (across[k] < 0) return {};
        }
        levels.push_back(medianOf(std::span<double>(across)) / ferrule);
    }
    return levels;
}

/// How far from the edge the levels stay below a share, um.
double extent(const std::vector<double>& levels, double share)
{
    double last = 0;
    int above = 0;
    for (std::size_t i = 0; i < levels.size() && above < 3; ++i) {
        if (levels[i] < share)
            last = double(i + 1) * step, above = 0;
        else
            ++above;
    }
    return last;
}

}  // namespace

Making makingFaults(const cv::Mat1b& picture, const CladdingEdge& edge, double pxPerUm, const std::vector<Finding>& findings, bool polishedFerrule)
{
    std::vector<double> around;
    for (int i = 0; i < 240; ++i)
        for (const double out : {22.0, 26.0, 30.0}) {
            const double angle = 2 * std::numbers::pi * i / 240, r = edge.circle.radius + out * pxPerUm;
            const double v = sample(picture, edge.circle.x + r * std::cos(angle), edge.circle.y + r * std::sin(angle));
            if (v >= 0) around.push_back(v);
        }
    const double ferrule = median(around);
    Making out;
    auto& faults = out.faults;
    if (around.size() < 120 || ferrule < 8) return out;
    std::vector<double> gaps, dips;
    for (int s = 0; s < sectors; ++s) {
        const auto levels = levelsBehind(picture, edge, pxPerUm, s, ferrule);
        if (levels.empty()) continue;
        gaps.push_back(extent(levels, darkShare));
        const auto mean = [&](double from) {  // over 3.5 um
            double sum = 0;
            for (int k = 0; k < 7; ++k) sum += levels[static_cast<std::size_t>((from - 0.5) / step) + static_cast<std::size_t>(k)];
            return sum / 7;
        };
        dips.push_back(1 - mean(2.5) / std::max(0.05, mean(11.0)));
    }
    if (gaps.size() > sectors / 2) {
        std::sort(gaps.begin(), gaps.end());
        const double widest = gaps[gaps.size() * 9 / 10], narrowest = gaps[gaps.size() / 10];
        if (widest >= wideGap && widest - narrowest >= 0.4 * widest) {
            faults.push_back(MakingFault::OffCentre);
            out.offset = Micrometre((widest - narrowest) / 2);
        } else if (narrowest >= wideGap)
            faults.push_back(MakingFault::WideHole);
        else if (polishedFerrule && median(dips) >= shadowDip)
            faults.push_back(MakingFault::Proud);
    }
    if (std::count_if(findings.begin(), findings.end(), [](const Finding& f) { return f.appearance == Appearance::Chip; }) >= chipsOfARaggedRim)
        faults.push_back(MakingFault::RaggedRim);
    std::vector<double> scatter;
    for (const double v : around) scatter.push_back(std::abs(v - ferrule) / ferrule);
    if (polishedFerrule && 1.4826 * median(scatter) > coarse) faults.push_back(MakingFault::Unpolished);
    return out;
}

}  // namespace clendo::face
