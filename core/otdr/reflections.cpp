#include "otdr/reflections.h"

#include <algorithm>
#include <cmath>

namespace clendo::otdr {
namespace {

constexpr double leastPeak = 0.42;  // dB; what is fainter is looked for as a step that rises first
constexpr double peakSigmas = 5.5;
constexpr double tailDone = 0.018;  // dB over the fibre behind: the dead zone is over

class ReflectionSearch {
public:
    ReflectionSearch(const Signal& s, double typicalSlope)
        : s_(s), typical_(typicalSlope), pulse_(s.pulseSamples()), window_(std::max<std::size_t>(300, std::min<std::size_t>(10 * pulse_, 600)))
    {
    }

    FoundPlaces run()
    {
        const std::size_t zero = s_.indexOf(0);
        const std::size_t dark = whereLightStops(zero);
        const std::size_t zeroReach = zero + 2 * pulse_ + 4;
        out_.anyLight = dark > zeroReach && dark - zero > 12;
        if (!out_.anyLight) return out_;
        std::vector<std::size_t> rises = findRises(zeroReach, dark);
        placeEnd(dark, rises);
        if (out_.end) out_.end = std::min(*out_.end, s_.size() - 1);
        if (out_.end && out_.endPeak) out_.endAt = beginOf(*out_.end);
        const std::size_t last = out_.end.value_or(s_.size());
        out_.launchClean = cleanBehind(zero, rises.empty() ? last : rises.front());
        for (std::size_t k = 0; k < rises.size(); ++k) {
            const std::size_t next = k + 1 < rises.size() ? rises[k + 1] : last;
            out_.places.push_back({rises[k], cleanBehind(rises[k], next), beginOf(rises[k])});
        }
        return out_;
    }

private:
    /// First point from which on hardly anything but noise is seen.
    [[nodiscard]] std::size_t whereLightStops(std::size_t from) const
    {
        const std::size_t span = std::max<std::size_t>({pulse_, 24, static_cast<std::size_t>(16 * s_.correlation())});
        const double threshold = 1.25 * s_.noise();
        const std::size_t n = s_.size();
        for (std::size_t i = from + 2 * pulse_; i + span < n; i += std::max<std::size_t>(1, span / 8)) {
            if (s_.mean(i, i + span) > threshold) continue;
            // dark now; and mostly dark in what follows? (ghosts are short)
            std::size_t darkBlocks = 0, blocks = 0;
            for (std::size_t k = i; k + span <= n && blocks < 24; k += span, ++blocks) darkBlocks += s_.mean(k, k + span) <= threshold ? 1 : 0;
            if (double(darkBlocks) >= 0.6 * double(blocks)) return i + edgeWithin(i, span, threshold);
        }
        return n;
    }

    [[nodiscard]] std::size_t edgeWithin(std::size_t i, std::size_t span, double threshold) const
    {
        const std::size_t few = std::max<std::size_t>(2, span / 6);
        for (std::size_t k = 0; k < span; ++k)
            if (s_.mean(i + k, i + k + few) <= threshold * 1.6) return k;
        return 0;
    }

    /// Sharp rises of the power: starts of reflections.
    [[nodiscard]] std::vector<std::size_t> findRises(std::size_t from, std::size_t to) const
    {
        std::vector<std::size_t> out;
        const std::size_t few = std::max<std::size_t>(1, pulse_ / 2), back = std::clamp<std::size_t>(2 * pulse_, 4, 400);
        const std::size_t reach = std::max<std::size_t>(1, pulse_ / 3);
        for (std::size_t i = std::max(from, back + 1); i + few + reach < std::min(to + pulse_, s_.size()); ++i) {
            // the fibre itself falls between the two windows
            const double falls = std::pow(10, typical_ * s_.spacing() * (double(back + few) / 2 + double(reach)) / 5);
            const double before = s_.mean(i - back, i) * falls, after = s_.mean(i + reach, i + reach + few);
            const double floor = std::max(before, s_.noise());
            const double sigma =
                std::hypot(s_.noiseAt(floor) * std::sqrt(s_.correlation()) * std::sqrt(1.0 / double(few) + 1.0 / double(back)), 0.006 * floor);
            if (after - before < std::max(peakSigmas * sigma, (std::pow(10, leastPeak / 5) - 1) * floor)) continue;
            if (!startsHere(i, before, after, sigma)) continue;
            if (!out.empty() && s_.z(i) - s_.z(out.back()) < 1.05 * s_.pulseMetres()) continue;
            if (!out.empty() && !risesFromTail(out.back(), i, after)) continue;
            out.push_back(foot(i, before, after));
            i += pulse_ + reach;
        }
        return out;
    }

    /// The rise must be steep here: most of it happens within the receiver's rise time, not over the whole window.
    [[nodiscard]] bool startsHere(std::size_t i, double before, double after, double sigma) const
    {
        const std::size_t near = std::max<std::size_t>(pulse_ / 2, 2);
        const double here = *std::max_element(&power_at(i), &power_at(std::min(s_.size() - 1, i + near)) + 1);
        return here - before > 0.5 * (after - before) && s_.mean(i > 2 ? i - 2 : 0, i + 1) - before < std::max(3 * sigma, 0.5 * (after - before));
    }
    [[nodiscard]] const double& power_at(std::size_t i) const { return s_.powers()[i]; }

    /// Behind a strong peak the trace falls; a new event must clearly rise out of that.
    [[nodiscard]] bool risesFromTail(std::size_t previous, std::size_t i, double after) const
    {
        const double lowest = *std::min_element(&power_at(previous), &power_at(i) + 1);
        return after > lowest * 1.1;
    }

    /// Foot of a rise: where it leaves the level before, interpolated to the nearest point.
    [[nodiscard]] std::size_t foot(std::size_t i, double before, double after) const
    {
        const double level = before + 0.08 * (after - before);
        std::size_t k = i + std::max<std::size_t>(pulse_ / 2, 2);
        k = std::min(k, s_.size() - 1);
        while (k > 0 && s_.power(k) > level && k + 4 * pulse_ + 8 > i) --k;
        return k;
    }

    /// Where a rise begins, between two points: a line through its lower half, down to the level before, or where it leaves the noise if that is
    /// sooner; in the middle between two points where it is over within one step.
    [[nodiscard]] double beginOf(std::size_t foot) const
    {
        const std::size_t back = std::clamp<std::size_t>(2 * pulse_, 4, 400), stop = std::min(s_.size(), foot + pulse_ + 4);
        const double before = s_.mean(foot > back ? foot - back : 0, foot > pulse_ / 3 + 1 ? foot - pulse_ / 3 : 1);
        double top = before;
        for (std::size_t i = foot; i < stop; ++i) top = std::max(top, s_.power(i));
        const auto crossing = [&](double share) -> std::optional<double> {
            const double level = before + share * (top - before);
            for (std::size_t i = foot > pulse_ / 3 ? foot - pulse_ / 3 : 0; i < stop; ++i)
                if (s_.power(i) >= level) {
                    if (i == 0) return s_.z(0);
                    const double below = s_.power(i - 1), rise = s_.power(i) - below;
                    return s_.z(i - 1) + (rise > 0 ? std::clamp((level - below) / rise, 0.0, 1.0) : 1.0) * (s_.z(i) - s_.z(i - 1));
                }
            return std::nullopt;
        };
        constexpr double low = 0.15, high = 0.45, steep = 0.6, least = 0.003;
        const auto a = crossing(low), b = crossing(high),
                   first = crossing(std::max(least, 3.5 * s_.noiseAt(before) / std::max(1e-300, top - before)));
        if (!a || !b || !first) return s_.z(foot);
        const std::size_t at = s_.indexOf(*b);
        if (at > 0 && s_.power(at) - s_.power(at - 1) > steep * (top - before)) return (s_.z(at) + s_.z(at - 1)) / 2;
        return std::min(*a - low / (high - low) * (*b - *a), *first);
    }

    /// First index behind an event from which the trace follows the fibre: no tail is left over it.
    [[nodiscard]] std::size_t cleanBehind(std::size_t start, std::size_t next) const
    {
        const std::size_t least = start + pulse_ + std::max<std::size_t>(2, pulse_ / 4);
        if (next <= least + 4) return next;
        const std::size_t room = next - least;
        const double noiseHere = s_.sigmaAt(s_.mean(least + room / 2, next));
        const auto wanted = static_cast<std::size_t>(std::min(1e6, s_.correlation() * noiseHere * noiseHere / (0.012 * 0.012)));
        const std::size_t shortest = std::max<std::size_t>(6, pulse_ / 2);
        const std::size_t head = std::clamp(wanted, shortest, std::max(shortest, std::min(room / 5, std::max<std::size_t>(20 * pulse_, 60))));
        std::size_t from = least;
        while (from + 3 * head < next) {
            const std::size_t to = std::min(next, from + head + std::max<std::size_t>({3 * pulse_, 3 * head, 60}));
            const double at = s_.z(from + head / 2);
            auto far = s_.fit(from + head, to, at);
            if (!far || far->slope < 1.8 * typical_ || far->slope > 0.5 * typical_) far = s_.fit(from + head, to, at, typical_);
            if (!far) break;
            const double p = s_.mean(from, from + head);
            const double sigma = s_.sigmaAt(p) * std::sqrt(s_.correlation() / double(head));
            const double slopeDoubt = 0.08 * std::abs(typical_) * (s_.z((from + head + to) / 2) - at);
            if (p > 0 && decibels(p) - far->level < slopeDoubt + std::max(tailDone, 2.0 * std::hypot(sigma, far->levelError))) return from;
            from += std::max<std::size_t>(1, (from - start) / 12);
        }
        return from + 3 * head < next ? from : next;
    }

    /// Where the fibre fades into the noise, its end may still be seen to reflect: the first rise that stands out of the dark.
    [[nodiscard]] std::optional<std::size_t> endBeyond(std::size_t dark) const
    {
        const std::size_t back = std::max<std::size_t>(12 * pulse_, 200);
        if (dark >= s_.size() || dark < back + pulse_) return std::nullopt;
        constexpr double faded = 3.5;  // of the noise
        if (s_.mean(dark - back, dark - pulse_) > faded * s_.noise()) return std::nullopt;
        const auto rises = findRises(dark > pulse_ ? dark - pulse_ : dark, s_.size());
        return rises.empty() ? std::nullopt : std::optional(rises.front());
    }

    void placeEnd(std::size_t dark, std::vector<std::size_t>& rises)
    {
        const auto beyond = endBeyond(dark);
        while (!rises.empty() && rises.back() > dark) rises.pop_back();
        // the end reflects: the first rise from which the trace never comes back to the fibre's line
        for (std::size_t k = 0; k < rises.size(); ++k) {
            const std::size_t from = k > 0 ? rises[k - 1] + 2 * pulse_ : s_.indexOf(0) + 2 * pulse_;
            const std::size_t begin = std::max(from, rises[k] > window_ ? rises[k] - window_ : 0);
            if (rises[k] <= begin + 3 || !neverComesBack(rises[k], k + 1 < rises.size() ? rises[k + 1] : dark, s_.mean(begin, rises[k]))) continue;
            out_.end = rises[k];
            out_.endPeak = true;
            rises.resize(k);
            break;
        }
        if (!out_.end && beyond) {
            out_.end = *beyond;
            out_.endPeak = true;
        }
        if (!out_.end && dark >= s_.size()) return;  // the fibre goes on
        if (!out_.end) out_.end = dropBefore(dark, rises);
        while (!rises.empty() && rises.back() + 1 >= *out_.end) rises.pop_back();
    }

    /// Behind this rise there is only the receiver's tail: it falls far below the fibre before, steeply or into the noise.
    [[nodiscard]] bool neverComesBack(std::size_t rise, std::size_t stop, double before) const
    {
        const std::size_t behind = rise + pulse_ + 3;
        constexpr double nothingUsable = 8;  // dB: none comes behind such a loss
        if (stop <= behind + 2 * pulse_ + 8) {
            const double dark = s_.mean(stop, stop + 4 * pulse_ + 24);
            return stop < s_.size() &&
                   (dark < 1.3 * s_.noise() || decibels(std::max(dark, 1e-16)) < decibels(std::max(before, 1e-16)) - nothingUsable);
        }
        const std::size_t quarter = behind + 3 * (stop - behind) / 4;
        const double last = std::max(s_.mean(quarter, stop), 1e-16);
        const double fibreFalls = 1.5 * typical_ * (s_.z(quarter) - s_.z(rise));
        if (decibels(last) > decibels(std::max(before, 1e-16)) + fibreFalls - 3.5) return false;
        if (decibels(last) < decibels(before) + fibreFalls - nothingUsable) return true;
        const auto line = s_.fit(quarter, stop, s_.z(quarter));
        return last < 2.2 * s_.noise() || !line || line->slope < 8 * typical_;
    }

    /// A dark end: where the trace leaves the line for good, downwards.
    [[nodiscard]] std::size_t dropBefore(std::size_t dark, const std::vector<std::size_t>& rises) const
    {
        const std::size_t from = (rises.empty() ? s_.indexOf(0) : rises.back()) + 2 * pulse_;
        const std::size_t back = 3 * pulse_ + 6;
        if (dark <= from + back + 8) return dark;
        const std::size_t begin = std::max(from, dark > back + window_ ? dark - back - window_ : 0);
        const double level = s_.mean(begin + (dark - back - begin) / 2, dark - back);
        const std::size_t few = std::max<std::size_t>(2, pulse_ / 3);
        std::size_t at = dark;
        while (at > from && s_.mean(at, at + few) < 0.75 * level) --at;
        return at;
    }

    const Signal& s_;
    double typical_;
    std::size_t pulse_, window_;
    FoundPlaces out_;
};

}  // namespace

FoundPlaces searchReflections(const Signal& signal, double typicalSlope) { return ReflectionSearch(signal, typicalSlope).run(); }

}  // namespace clendo::otdr
