#include "face/find/row_edge.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <span>

#include "face/median.h"

namespace clendo::face {
namespace {

constexpr std::size_t fewest = 4;                  // fibres
constexpr double leastCoverage = 0.45;             // share of its edge that a fibre shows
constexpr double leastStep = 10;                   // grey, between glass and ferrule
constexpr double sameRadius = 0.03;                // share by which claddings of one row differ at most, each as the rays see it
constexpr double mostShift = 2, shiftStep = 0.05;  // pixels: the rays find one edge or the other of the adhesive
constexpr int rounds = 3;
constexpr double mostOff = 0.06;               // of the step between glass and ferrule, root of mean squares: beyond it a profile is another
constexpr double inner = 0.09, outer = 0.085;  // of the radius: what all profiles show

/// A profile as shares of the step from ferrule to glass, by pixels from where the rays see the edge.
struct Course {
    const CladdingEdge* edge = nullptr;
    std::size_t place = 0;  // in the row
    double shift = 0;       // of its own edge against that of all
    [[nodiscard]] double at(double x) const
    {
        const EdgeProfile& p = edge->profile;
        const double at = (p.seen + x + shift - p.from) / EdgeProfile::step;
        const auto i = static_cast<std::size_t>(std::clamp(at, 0.0, double(p.levels.size()) - 2));
        const double part = std::clamp(at - double(i), 0.0, 1.0), level = p.levels[i] + part * (p.levels[i + 1] - p.levels[i]);
        return (level - edge->outsideLevel) / (edge->insideLevel - edge->outsideLevel);
    }
};

struct Grid {
    double from = 0;
    std::size_t size = 0;
    [[nodiscard]] double x(std::size_t i) const { return from + double(i) * EdgeProfile::step; }
};

std::vector<double> middleOf(const std::vector<Course>& all, const Grid& grid)
{
    std::vector<double> middle, values;
    for (std::size_t i = 0; i < grid.size; ++i) {
        values.clear();
        for (const Course& c : all) values.push_back(c.at(grid.x(i)));
        middle.push_back(medianOf(std::span(values)));
    }
    return middle;
}

double offOf(const Course& course, const std::vector<double>& middle, const Grid& grid)
{
    double squares = 0;
    for (std::size_t i = 0; i < grid.size; ++i) squares += std::pow(course.at(grid.x(i)) - middle[i], 2);
    return std::sqrt(squares / double(grid.size));
}

void align(std::vector<Course>& all, const std::vector<double>& middle, const Grid& grid)
{
    double sum = 0;
    for (Course& c : all) {
        double least = std::numeric_limits<double>::max(), best = 0;
        for (c.shift = -mostShift; c.shift <= mostShift; c.shift += shiftStep)
            if (const double off = offOf(c, middle, grid); off < least) {
                least = off;
                best = c.shift;
            }
        c.shift = best;
        sum += best;
    }
    for (Course& c : all) c.shift -= sum / double(all.size());
}

}  // namespace

void shareEdge(std::vector<std::optional<CladdingEdge>>& row)
{
    std::vector<Course> all;
    std::vector<double> radii, inside, outside;
    for (std::size_t i = 0; i < row.size(); ++i) {
        const auto& edge = row[i];
        if (!edge || edge->coverage < leastCoverage || std::abs(edge->insideLevel - edge->outsideLevel) < leastStep ||
            edge->profile.levels.size() < 8)
            continue;
        all.push_back({&*edge, i, 0});
        radii.push_back(edge->profile.seen);
        inside.push_back(edge->insideLevel);
        outside.push_back(edge->outsideLevel);
    }
    if (all.size() < fewest) return;
    const double radius = medianOf(std::span(radii));
    std::erase_if(all, [&](const Course& c) { return std::abs(c.edge->profile.seen / radius - 1) > sameRadius; });
    if (all.size() < fewest) return;
    const Grid grid{-inner * radius, static_cast<std::size_t>((inner + outer) * radius / EdgeProfile::step)};
    std::vector<double> middle;
    for (int round = 0; round < rounds; ++round) {
        middle = middleOf(all, grid);
        align(all, middle, grid);
    }
    middle = middleOf(all, grid);
    std::erase_if(all, [&](const Course& c) { return offOf(c, middle, grid) > mostOff; });
    if (all.size() < fewest) return;

    const double in = medianOf(std::span(inside)), out = medianOf(std::span(outside));
    EdgeProfile together{{}, radius + grid.from, radius, all.front().edge->profile.sign};
    for (const double share : middleOf(all, grid)) together.levels.push_back(out + share * (in - out));
    const auto shape = finelyShapeOf(together);
    if (!shape) return;
    for (const Course& c : all) {
        EdgeShape own = *shape;
        own.radius += c.edge->profile.seen + c.shift - radius;
        own.insideLevel = c.edge->insideLevel;
        own.outsideLevel = c.edge->outsideLevel;
        row[c.place]->become(own);
    }
}

}  // namespace clendo::face
