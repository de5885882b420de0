#include "otdr/overlaps.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace clendo::otdr {
namespace {

/// The point at which a second reflection begins on the plateau of one that begins at `start`; nothing: it is even enough.
std::optional<std::size_t> secondRise(const Signal& s, std::size_t start)
{
    const std::size_t pulse = s.pulseSamples(), w = std::max<std::size_t>(1, pulse / 8);
    constexpr std::size_t fewest = 8;  // samples of a pulse: else a plateau cannot be told from a rise
    if (pulse < fewest || start < 2 * pulse || start + 2 * pulse >= s.size()) return std::nullopt;
    const auto level = [&](std::size_t i) { return s.mean(i, i + w); };
    const double fibre = s.mean(start - 2 * pulse, start - pulse / 3);
    std::size_t best = 0;
    double most = 0;
    for (std::size_t i = start + 4 * w; i + 2 * w < start + pulse + w; ++i)
        if (const double jump = level(i + w) - level(i - w); jump > most) {
            most = jump;
            best = i;
        }
    if (best == 0) return std::nullopt;
    const double before = level(best - w), stood = before - fibre, sigma = s.noiseAt(before) * std::sqrt(s.correlation() / double(w));
    constexpr double asMuch = 0.6, sigmas = 10, even = 0.3;
    if (stood < std::max(sigmas * sigma, 0.3 * fibre) || most < std::max(sigmas * sigma, asMuch * stood)) return std::nullopt;
    // a plateau stood before it: else it is one slow rise
    if (std::abs(before - level(best - 3 * w)) > even * most || level(best - 3 * w) - fibre < 0.5 * stood) return std::nullopt;
    constexpr double foot = 0.1;
    std::size_t at = best;
    while (at > start + 1 && s.power(at) > before + foot * most) --at;
    return at;
}

}  // namespace

void divideOverlaps(const Signal& signal, std::vector<Candidate>& places)
{
    for (std::size_t k = 0; k < places.size(); ++k) {
        const auto second = secondRise(signal, places[k].start);
        if (!second) continue;
        Candidate next{*second, places[k].clean, signal.z(*second)};
        places[k].clean = *second;
        places.insert(places.begin() + static_cast<std::ptrdiff_t>(++k), next);
    }
}

}  // namespace clendo::otdr
