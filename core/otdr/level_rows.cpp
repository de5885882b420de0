#include "otdr/level_rows.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>

namespace clendo::otdr {
namespace {

constexpr float unknown = std::numeric_limits<float>::quiet_NaN();

/// Within 2e-4, at a tenth of the library's time: its exponent, and the series of the logarithm about the middle of what is left.
float log2Of(float x)
{
    const auto bits = std::bit_cast<std::uint32_t>(x);
    constexpr std::uint32_t mantissa = 0x7FFFFFU, one = 0x3F800000U;
    constexpr int bias = 127, places = 23;
    const float m = std::bit_cast<float>((bits & mantissa) | one) - 1.5F;
    const float polynomial =
        0.58496250F + m * (0.96179669F + m * (-0.32059890F + m * (0.14248840F + m * (-0.07124420F + m * (0.03799691F - m * 0.02110939F)))));
    return static_cast<float>(static_cast<int>(bits >> places) - bias) + polynomial;
}

/// From where on behind a reflection the level falls no more than fibre does: strong light stays in receivers for a while.
double settled(const Trace& trace, double from, double pulse)
{
    const auto level = [&](double z) {
        const auto at = std::lower_bound(trace.distance.begin(), trace.distance.end(), static_cast<float>(z)) - trace.distance.begin();
        const auto to = std::lower_bound(trace.distance.begin(), trace.distance.end(), static_cast<float>(z + pulse)) - trace.distance.begin();
        double sum = 0;
        for (auto i = at; i < to; ++i) sum += double(trace.level[static_cast<std::size_t>(i)]);
        return to > at ? sum / double(to - at) : 0;
    };
    constexpr double fibre = 0.0005, remains = 0.02;  // dB per metre, at most; dB over two pulses
    constexpr int longest = 60;                       // pulses
    for (int n = 0; n < longest; ++n, from += pulse)
        if (level(from) - level(from + 2 * pulse) < remains + 2 * fibre * pulse) break;
    return from;
}

/// Where no fibre can be seen: dead zones behind reflections, and what lies behind the end.
std::vector<std::pair<double, double>> hidden(const Trace& trace, const Analysis& found)
{
    const double pulse = trace.pulseLength().value(), spacing = trace.spacing().value();
    std::vector<std::pair<double, double>> out;
    for (const auto& e : found.events) {
        const double at = e.at.value();
        if (e.kind == EventKind::End) out.emplace_back(at - spacing, 1e12);
        const bool reflects = e.reflectance.has_value() || e.kind == EventKind::Launch;
        if (reflects) out.emplace_back(at - spacing, settled(trace, at + 3 * pulse + 4 * spacing, std::max(pulse, 8 * spacing)));
    }
    return out;
}

}  // namespace

LevelRow::LevelRow(const Trace& trace, const Analysis& found, Metre launchEnd, Metre length, bool turned)
    : launchEnd_(launchEnd.value()), length_(length.value()), turned_(turned)
{
    const double spacing = std::max(1e-4, trace.spacing().value());
    const auto each = std::max<std::size_t>(1, static_cast<std::size_t>(trace.pulseLength().value() / spacing / 4));
    pitch_ = spacing * double(each);
    const auto dark = hidden(trace, found);
    const std::size_t blocks = trace.level.size() / each;
    sums_.assign(1, 0);
    counts_.assign(1, 0);
    sums_.reserve(blocks + 1);
    counts_.reserve(blocks + 1);
    const double first = trace.distance.empty() ? 0 : double(trace.distance.front());
    for (std::size_t b = 0; b < blocks; ++b) {
        const double z = first + (double(b) + 0.5) * pitch_;
        double sum = 0;
        for (std::size_t i = b * each; i < (b + 1) * each; ++i)
            if (!trace.dark[i]) sum += std::exp2(double(trace.level[i]) * 0.66438561897747247);  // 10^(y / 5)
        const bool seen = std::none_of(dark.begin(), dark.end(), [&](const auto& d) { return z >= d.first && z < d.second; });
        sums_.push_back(sums_.back() + (seen ? sum / double(each) : 0));
        counts_.push_back(counts_.back() + (seen ? 1 : 0));
    }
    launchEnd_ -= first;
    // the level at the near end: of the last fibre before it, of the first behind it where there is none
    constexpr double lead = 100;  // m
    const double back = std::max(lead, 12 * pitch_);
    const double near = turned_ ? length_ : 0, sign = turned_ ? 1 : -1;
    float level = unknown;
    for (const double way : {sign, -sign})
        if (std::isnan(level)) level = mean(std::min(near, near + way * back), std::max(near, near + way * back));
    zero_ = level;
}

float LevelRow::mean(double from, double to) const
{
    const double begin = launchEnd_ + (turned_ ? length_ - to : from), end = launchEnd_ + (turned_ ? length_ - from : to);
    const auto last = double(sums_.size() - 1);
    const double left = std::floor(begin / pitch_), right = std::max(left + 1, std::ceil(end / pitch_));
    if (right <= 0 || left >= last || !(right > left)) return unknown;
    const auto a = static_cast<std::size_t>(std::max(0.0, left)), b = static_cast<std::size_t>(std::min(last, right));
    return level(a, b);
}

float LevelRow::level(std::size_t a, std::size_t b) const
{
    const double sum = sums_[b] - sums_[a];
    const std::uint32_t n = counts_[b] - counts_[a];
    if (n == 0 || !(sum > 0)) return unknown;
    constexpr float fiveLg2 = 1.5051499783F;
    return fiveLg2 * log2Of(static_cast<float>(sum) / static_cast<float>(n)) - zero_;
}

void LevelRow::means(double from, double wide, std::size_t columns, float* out) const
{
    const double first = (launchEnd_ + (turned_ ? length_ - from - wide * double(columns) : from)) / pitch_, step = wide / pitch_;
    const auto last = static_cast<std::int64_t>(sums_.size()) - 1;
    constexpr double far = 1e15;  // beyond, numbers of blocks are none
    const bool known = std::abs(first) < far && step > 0 && step * double(columns) < far;
    auto left = known ? static_cast<std::int64_t>(std::floor(first)) : 0;
    for (std::size_t k = 0; k < columns; ++k) {
        // towards positive infinity both ways round: only blocks in front of the first one would be off, and they are none
        const auto next = known ? static_cast<std::int64_t>(first + step * double(k + 1)) : 0;
        const std::int64_t a = std::max<std::int64_t>(0, left), b = std::min(last, std::max(left + 1, next));
        out[turned_ ? columns - 1 - k : k] = known && a < b ? level(static_cast<std::size_t>(a), static_cast<std::size_t>(b)) : unknown;
        left = next;
    }
}

std::vector<float> differenceMap(const std::vector<const LevelRow*>& rows, Metre from, Metre to, std::size_t columns)
{
    std::vector<float> out(rows.size() * columns, unknown);
    constexpr std::size_t least = 3;
    if (rows.size() < least || columns == 0 || to <= from) return out;
    const double wide = (to - from).value() / double(columns);
    // row after row, as they lie in memory
    for (std::size_t r = 0; r < rows.size(); ++r) rows[r]->means(from.value(), wide, columns, out.data() + r * columns);
    std::vector<float> column;
    for (std::size_t c = 0; c < columns; ++c) {
        column.clear();
        for (std::size_t r = 0; r < rows.size(); ++r)
            if (const float level = out[r * columns + c]; !std::isnan(level)) column.push_back(level);
        float middle = unknown;
        if (column.size() >= least) {
            const auto at = column.begin() + static_cast<std::ptrdiff_t>(column.size() / 2);
            std::nth_element(column.begin(), at, column.end());
            middle = *at;
        }
        for (std::size_t r = 0; r < rows.size(); ++r) out[r * columns + c] = middle - out[r * columns + c];
    }
    return out;
}

std::vector<StandsOut> standingOut(const std::vector<float>& map, std::size_t columns, Decibel least)
{
    std::vector<StandsOut> out;
    if (columns == 0) return out;
    for (std::size_t row = 0; row < map.size() / columns; ++row) {
        const float* line = map.data() + row * columns;
        constexpr std::size_t lastOnes = 7;
        std::vector<float> end;
        for (std::size_t c = columns; c-- > 0 && end.size() < lastOnes;)
            if (!std::isnan(line[c])) end.push_back(line[c]);
        if (end.size() < lastOnes) continue;
        std::nth_element(end.begin(), end.begin() + lastOnes / 2, end.end());
        const float more = end[lastOnes / 2];
        if (more < static_cast<float>(least.value())) continue;
        // back to where it is still half of that
        std::size_t from = columns;
        for (std::size_t c = columns; c-- > 0;) {
            if (std::isnan(line[c])) continue;
            if (line[c] < more / 2) break;
            from = c;
        }
        out.push_back({row, from, Decibel(double(more))});
    }
    return out;
}

}  // namespace clendo::otdr
