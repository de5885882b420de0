#include "otdr/peaks.h"

#include <algorithm>

namespace clendo::otdr {

Peaks::Peaks(const Trace& trace, const Signal& signal) : trace_(trace), s_(signal)
{
    ceiling_ = *std::max_element(trace_.level.begin(), trace_.level.end());
    std::size_t places = 0, last = 0;
    for (std::size_t i = 0; i < trace_.level.size(); ++i) {
        if (trace_.level[i] < ceiling_ - same) continue;
        if (places == 0 || i - last > 3 * s_.pulseSamples() + 6) ++places;
        last = i;
    }
    shared_ = places > 1;
}

bool Peaks::saturated(std::size_t from, std::size_t to) const
{
    to = std::min(to, trace_.level.size());
    if (to <= from) return false;
    const auto at = [&](std::size_t i) { return trace_.level.begin() + static_cast<std::ptrdiff_t>(i); };
    const float top = *std::max_element(at(from), at(to));
    std::size_t run = 0, longest = 0;
    for (std::size_t i = from; i < to; ++i) {
        run = trace_.level[i] >= top - same ? run + 1 : 0;
        longest = std::max(longest, run);
    }
    if (top >= ceiling_ - same && (shared_ || longest >= 3)) return true;
    constexpr double flat = 0.35;  // of the pulse
    return longest >= std::max<std::size_t>(3, static_cast<std::size_t>(flat * double(s_.pulseSamples())));
}

double Peaks::height(std::size_t start, std::size_t stop, double level) const
{
    stop = std::min({stop, start + s_.pulseSamples() + std::max<std::size_t>(3, s_.pulseSamples() / 4), s_.size()});
    const std::size_t part = std::max<std::size_t>(1, s_.pulseSamples() / 8);
    double most = 1e-16;
    for (std::size_t i = start; i + part <= stop; ++i) most = std::max(most, s_.mean(i, i + part));
    return decibels(most) - level;
}

Peak Peaks::over(std::size_t start, std::size_t behind) const
{
    const std::size_t stop = std::min(s_.size(), topEnd(start));
    const auto at = [&](std::size_t i) { return trace_.level.begin() + static_cast<std::ptrdiff_t>(i); };
    const double top = double(*std::max_element(at(start), at(stop)));
    const double fibre = decibels(std::max(1e-16, s_.mean(behind, behind + std::max<std::size_t>(8, s_.pulseSamples() / 2))));
    constexpr double higherThanSeen = 6;  // dB, of a peak that is cut off
    return {s_.z(start), std::max(0.0, top - fibre) + (saturated(start, stop) ? higherThanSeen : 0)};
}

}  // namespace clendo::otdr
