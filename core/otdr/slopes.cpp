#include "otdr/slopes.h"

#include <algorithm>
#include <cmath>

namespace clendo::otdr {

std::vector<SlopeSeen> slopesOf(const Signal& s, std::size_t from, std::size_t to, double usual)
{
    std::vector<SlopeSeen> out;
    if (to < from + 40) return out;
    const double sigma = s.sigmaAt(s.mean(from + (to - from) / 2, to));
    // so long that each slope is known to this share
    constexpr double share = 0.15;
    const double wanted = std::cbrt(12 * s.correlation() * sigma * sigma * s.spacing() / (share * share * usual * usual));
    const auto least = std::max<std::size_t>(s.pulseSamples(), 40);
    const std::size_t room = to - from, samples = std::max(least, static_cast<std::size_t>(std::min(1e9, wanted / s.spacing())));
    const std::size_t pieces = std::clamp<std::size_t>(room / samples, 1, 120), each = room / pieces;
    for (std::size_t k = 0; k < pieces; ++k) {
        const std::size_t i = from + k * each;
        const double length = s.z(i + each - 1) - s.z(i), here = s.sigmaAt(s.mean(i, i + each));
        const double error = here * std::sqrt(12 * s.correlation() / double(each)) / std::max(length, 1e-9);
        if (error > 0.5 * std::abs(usual)) continue;  // nothing is known by it
        if (const auto line = s.fit(i, i + each, s.z(i))) out.push_back({line->slope, error, length});
    }
    return out;
}

SlopePrior usualSlope(std::vector<SlopeSeen> slopes, const SlopePrior& before)
{
    double all = 0;
    std::erase_if(slopes, [&](const SlopeSeen& s) { return s.slope > 0.4 * before.slope || s.slope < 2.5 * before.slope; });
    for (const auto& s : slopes) all += s.length;
    if (slopes.empty()) return before;
    std::sort(slopes.begin(), slopes.end(), [](const auto& a, const auto& b) { return a.slope < b.slope; });
    // the half of the fibre whose slopes are most alike: steps, most of them losses, make the others steeper
    std::size_t from = 0, to = slopes.size() - 1;
    double narrowest = slopes.back().slope - slopes.front().slope, within = 0;
    for (std::size_t i = 0, k = 0; i < slopes.size(); ++i) {
        while (k < slopes.size() && within < all / 2) within += slopes[k++].length;
        if (within < all / 2) break;
        if (slopes[k - 1].slope - slopes[i].slope < narrowest) {
            narrowest = slopes[k - 1].slope - slopes[i].slope;
            from = i;
            to = k - 1;
        }
        within -= slopes[i].length;
    }
    double weight = 0, middle = 0, spread = 0, doubt = 0;
    for (std::size_t i = from; i <= to; ++i) {
        weight += slopes[i].length;
        middle += slopes[i].length * slopes[i].slope;
        doubt += slopes[i].length * slopes[i].error;
    }
    middle /= weight;
    doubt /= weight;
    for (std::size_t i = from; i <= to; ++i) spread += slopes[i].length / weight * std::abs(slopes[i].slope - middle);
    constexpr double fibresDiffer = 0.06;
    const double known = 1.25 * doubt / std::sqrt(double(slopes.size()));  // of a median
    return {middle, std::clamp(std::hypot(known, std::max(0.0, spread - doubt)), fibresDiffer * std::abs(middle),
                               std::max(before.sigma, fibresDiffer * std::abs(middle)))};
}

}  // namespace clendo::otdr
