#include "criteria/detection.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "files/json_reading.h"

namespace clendo {
namespace {

using nlohmann::json;

constexpr double pixelsPerDefect = 2.0;  // a spot smaller than two pixels can fall between them
constexpr double blurPerDefect = 1.5;    // sigmas: a spot this wide keeps about half of its contrast

struct Between {
    std::size_t low, high;
    double share;  ///< of the way from low to high
};

Between between(const std::vector<double>& places, double at)
{
    const auto above = static_cast<std::size_t>(std::upper_bound(places.begin(), places.end(), at) - places.begin());
    if (above == 0) return {0, 0, 0};
    if (above == places.size()) return {above - 1, above - 1, 0};
    return {above - 1, above, (at - places[above - 1]) / (places[above] - places[above - 1])};
}

std::vector<double> numbers(const json& list, double low, double high, JsonReading& in)
{
    std::vector<double> out;
    for (const auto& n : list) {
        if (!n.is_number() || n.get<double>() < low || n.get<double>() > high) {
            in.complain(fmt::format("a number from {:g} to {:g} is missing", low, high));
            return {};
        }
        out.push_back(n.get<double>());
    }
    return out;
}

bool rises(const std::vector<double>& places) { return std::adjacent_find(places.begin(), places.end(), std::greater_equal<>()) == places.end(); }

}  // namespace

Micrometre DetectionTable::surelyFound(Scale scale, Micrometre blur) const
{
    const double umPerPx = scale.micrometresPerPixel(), sigma = blur.value();
    const double unmeasured = std::hypot(pixelsPerDefect * umPerPx, blurPerDefect * sigma);
    if (smallest.empty()) return Micrometre(unmeasured);
    const Between row = between(scales, umPerPx), column = between(blurs, sigma);
    const auto along = [&](std::size_t r) { return std::lerp(smallest[r][column.low], smallest[r][column.high], column.share); };
    const double measured = std::lerp(along(row.low), along(row.high), row.share);
    return Micrometre(umPerPx > scales.back() || sigma > blurs.back() ? std::max(measured, unmeasured) : measured);
}

Result<DetectionTable> parseDetection(std::string_view text)
{
    const json value = json::parse(text, nullptr, false);
    JsonReading in(value, "");
    if (!value.is_object() || in.textOr("format", "") != "clendo-detection")
        return failure(Error::Code::CriteriaInvalid, "The table of what pictures show is not readable. Compare it with data/face/detection.json.");
    DetectionTable out;
    out.scales = numbers(in.list("um_per_px"), 0.01, 100, in);
    out.blurs = numbers(in.list("blur_um"), 0.01, 100, in);
    for (const auto& row : in.list("smallest_um")) out.smallest.push_back(numbers(row, 0.1, 100, in));
    bool whole = !out.scales.empty() && !out.blurs.empty() && rises(out.scales) && rises(out.blurs) && out.smallest.size() == out.scales.size();
    for (std::size_t r = 0; whole && r < out.smallest.size(); ++r) {
        whole = out.smallest[r].size() == out.blurs.size() && std::is_sorted(out.smallest[r].begin(), out.smallest[r].end());
        for (std::size_t c = 0; whole && r > 0 && c < out.blurs.size(); ++c) whole = out.smallest[r][c] >= out.smallest[r - 1][c];
    }
    if (!whole) in.complain("“smallest_um” needs a row for each scale and a number for each blur, none smaller than the one before it");
    if (in.problem()) return failure(Error::Code::CriteriaInvalid, fmt::format("The table of what pictures show cannot be used: {}.", *in.problem()));
    return out;
}

Result<DetectionTable> loadDetection(const RuleFiles& rules)
{
    return rules.shipped("face/detection.json").and_then([](const std::string& text) { return parseDetection(text); });
}

}  // namespace clendo
