#include "face/find/row.h"

#include <algorithm>
#include <cmath>
#include <span>

#include "face/median.h"

namespace clendo::face {
namespace {

constexpr double claddingOverPitch = 62.5 / 250;
constexpr double leastOfPitch = 0.7, mostOfPitch = 1.15;  // of the radius that the pitch tells
constexpr double leastOfRow = 0.45;                       // of the strongest one's support
constexpr double uneven = 0.05, leastEven = 0.7;          // of the pitch; of the steps in the row
constexpr std::size_t fewest = 4, mostPlaces = 24;
constexpr std::size_t fewestOfKnownSize = 3;  // where they are as large as their pitch tells
constexpr double sameSize = 0.06;

/// The step from one to the next, where most steps are alike. The row has to be sorted.
std::optional<double> pitchOf(const std::vector<Circle>& row, std::size_t least)
{
    if (row.size() < least) return std::nullopt;
    std::vector<double> steps;
    for (std::size_t i = 1; i < row.size(); ++i) steps.push_back(row[i].x - row[i - 1].x);
    std::sort(steps.begin(), steps.end());
    const double pitch = steps[steps.size() / 2];
    const auto even = std::count_if(steps.begin(), steps.end(),
                                    [&](double s) { return std::abs(s - pitch * std::max(1.0, std::round(s / pitch))) < uneven * pitch; });
    return pitch > 1 && double(even) >= leastEven * double(steps.size()) ? std::optional(pitch) : std::nullopt;
}

void sortByPlace(std::vector<Circle>& row)
{
    std::sort(row.begin(), row.end(), [](const Circle& a, const Circle& b) { return a.x < b.x; });
}

/// Of circles in several rows, however tilted, those of the first one's row.
std::vector<Circle> aroundTheFirst(std::vector<Circle> circles)
{
    if (circles.empty()) return circles;
    constexpr double between = 3;  // radii, even of cores
    const double firstY = circles.front().y, gap = between * circles.front().radius;
    std::sort(circles.begin(), circles.end(), [](const Circle& a, const Circle& b) { return a.y < b.y; });
    const auto parted = [gap](const Circle& a, const Circle& b) { return b.y - a.y > gap; };
    auto from = circles.begin();
    for (;;) {
        const auto last = std::adjacent_find(from, circles.end(), parted);
        const auto to = last == circles.end() ? last : last + 1;
        if (to == circles.end() || std::prev(to)->y >= firstY) return {from, to};
        from = to;
    }
}

}  // namespace

std::vector<std::vector<Circle>> rowsIn(const std::vector<Circle>& circles)
{
    if (circles.empty()) return {};
    const Circle& first = circles.front();
    constexpr double onARow = 1.2, apart = 8, slack = 1.5;  // radii
    std::vector<Circle> row, above, below;
    for (const Circle& c : circles) {
        const double off = (c.y - first.y) / first.radius;
        if (std::abs(off) <= onARow)
            row.push_back(c);
        else if (std::abs(std::abs(off) - apart) <= slack)
            (off < 0 ? above : below).push_back(c);
    }
    std::vector<Circle>& second = above.size() > below.size() ? above : below;
    std::vector<std::vector<Circle>> out{row};
    if (second.size() >= fewestOfKnownSize && 3 * second.size() >= row.size()) out.insert(&second == &above ? out.begin() : out.end(), second);
    for (auto& one : out) sortByPlace(one);
    return out;
}

std::vector<std::vector<Circle>> fibresInRows(std::vector<Circle> circles, std::optional<int> counted)
{
    if (circles.empty()) return {};
    if (counted == 1) return {circles};
    std::sort(circles.begin(), circles.end(), [](const Circle& a, const Circle& b) { return a.support > b.support; });
    if (!counted) std::erase_if(circles, [least = leastOfRow * circles.front().support](const Circle& c) { return c.support < least; });
    auto rows = rowsIn(circles);
    if (!counted || rowsOf(*counted) > 1 || (rows.size() == 2 && rows[0].size() == rows[1].size())) return rows;
    sortByPlace(circles);
    return {circles};
}

std::optional<double> radiusByPitch(std::vector<Circle> row)
{
    const auto strongest = std::max_element(row.begin(), row.end(), [](const Circle& a, const Circle& b) { return a.support < b.support; });
    if (strongest == row.end()) return std::nullopt;
    std::erase_if(row, [least = leastOfRow * strongest->support](const Circle& c) { return c.support < least; });
    row = aroundTheFirst(std::move(row));
    sortByPlace(row);
    const auto pitch = pitchOf(row, fewest);
    if (!pitch || row[0].radius > leastOfPitch * claddingOverPitch * *pitch) return std::nullopt;
    return claddingOverPitch * *pitch;
}

std::vector<Circle> evenPlaces(const std::vector<Circle>& row, std::vector<Circle> sure)
{
    sortByPlace(sure);
    const auto pitch = pitchOf(sure, fewest);
    if (!pitch) return {};
    std::vector<double> radii;
    for (const Circle& c : sure) radii.push_back(c.radius);
    const double radius = medianOf(std::span(radii)), byPitch = claddingOverPitch * *pitch;
    if (std::abs(radius - byPitch) > sameSize * byPitch) return {};
    const Circle first = sure.front(), last = sure.back();
    const double count = std::round((last.x - first.x) / *pitch), stepX = (last.x - first.x) / count, stepY = (last.y - first.y) / count;
    std::vector<Circle> out;
    for (const Circle& c : row) {
        const double n = std::round((c.x - first.x) / stepX);
        out.push_back({first.x + n * stepX, first.y + n * stepY, radius, 1});
    }
    return out;
}

void fillRow(std::vector<Circle>& row, cv::Size picture)
{
    sortByPlace(row);
    const auto pitch = pitchOf(row, fewestOfKnownSize);
    if (!pitch) return;
    const double radius = row[0].radius, byPitch = claddingOverPitch * *pitch;
    if (row.size() < fewest && std::abs(radius - byPitch) > sameSize * byPitch) return;
    if (radius < leastOfPitch * byPitch || radius > mostOfPitch * byPitch) return;
    const Circle first = row.front(), last = row.back();
    const double count = std::round((last.x - first.x) / *pitch);
    if (count < 1) return;
    const double stepX = (last.x - first.x) / count, stepY = (last.y - first.y) / count;
    const auto fits = [&](double x, double y) {
        return x - radius >= 1 && y - radius >= 1 && x + radius <= picture.width - 2 && y + radius <= picture.height - 2;
    };
    const auto from = -static_cast<int>(first.x / stepX), to = static_cast<int>((picture.width - first.x) / stepX);
    for (int k = from; k <= to && row.size() < mostPlaces; ++k) {
        const double x = first.x + k * stepX, y = first.y + k * stepY;
        if (fits(x, y) && std::none_of(row.begin(), row.end(), [&](const Circle& c) { return std::hypot(c.x - x, c.y - y) < radius; }))
            row.push_back({x, y, radius, 0});
    }
    sortByPlace(row);
}

}  // namespace clendo::face
