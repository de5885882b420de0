#include "otdr/signal.h"

#include <algorithm>
#include <cmath>

namespace clendo::otdr {
namespace {

constexpr double fading = 0.004;  // dB: coherent fading that averaging does not remove

double quantile(std::vector<double> v, double q)
{
    if (v.empty()) return 0;
    const auto at = v.begin() + static_cast<std::ptrdiff_t>(double(v.size() - 1) * q);
    std::nth_element(v.begin(), at, v.end());
    return *at;
}

}  // namespace

double decibels(double power) { return 5 * std::log10(power); }

Signal::Signal(const Trace& trace) : trace_(trace)
{
    const std::size_t n = trace.level.size();
    power_.resize(n);
    sums_.resize(n + 1, 0);
    for (std::size_t i = 0; i < n; ++i) {
        power_[i] = trace.dark[i] ? 0 : std::pow(10.0, double(trace.level[i]) / 5);
        sums_[i + 1] = sums_[i] + power_[i];
    }
    spacing_ = std::max(1e-4, trace.spacing().value());
    pulseMetres_ = std::max(spacing_, trace.pulseLength().value());
    pulse_ = std::max<std::size_t>(1, static_cast<std::size_t>(std::lround(pulseMetres_ / spacing_)));
    const std::size_t tailFrom = n - std::max<std::size_t>(std::min<std::size_t>(n, 16), n / 10);
    const std::vector<double> tail(power_.begin() + static_cast<std::ptrdiff_t>(tailFrom), power_.end());
    std::vector<double> steps;
    for (std::size_t i = 1; i < tail.size(); ++i) steps.push_back(std::abs(tail[i] - tail[i - 1]));
    const double lowest = *std::min_element(tail.begin(), tail.end());
    const auto atBottom = std::count_if(tail.begin(), tail.end(), [&](double p) { return p <= lowest * 1.0001; });
    const bool clipped = double(atBottom) > 0.25 * double(tail.size());
    const double spread = quantile(tail, clipped ? 0.84 : 0.68), jumps = quantile(steps, 0.68) / 1.2;
    noise_ = spread > 6 * jumps && jumps > 0 ? jumps : spread;  // a tail that hardly jumps is still fibre
    noise_ = std::max(noise_, 1e-16);
    light_ = lightNoise();
    const double r = neighbourCorrelation();
    correlation_ = (1 + r) / (1 - r);
}

/// Noise that grows with the light: variance per power over the dark variance, the median over blocks of fibre.
double Signal::lightNoise() const
{
    constexpr std::size_t block = 64, lag = 8;
    std::vector<double> shares;
    for (std::size_t i = 0; i + block + lag < power_.size(); i += block) {
        const double p = mean(i, i + block);
        if (p < 3 * noise_ || p > 3000 * noise_) continue;
        std::vector<double> steps;
        for (std::size_t k = i; k < i + block; ++k) steps.push_back(std::abs(power_[k + lag] - power_[k]));
        const double sigma = quantile(std::move(steps), 0.5) / 0.6745 / std::sqrt(2.0);
        shares.push_back((sigma * sigma - noise_ * noise_) / p);
    }
    return shares.size() < 5 ? 0 : std::max(0.0, quantile(std::move(shares), 0.5));
}

double Signal::noiseAt(double power) const { return std::sqrt(noise_ * noise_ + light_ * std::max(0.0, power)); }

double Signal::neighbourCorrelation() const
{
    // where the noise rules but is not clipped: neighbours against samples eight apart
    std::vector<double> near, far;
    for (std::size_t i = 0; i + 8 < power_.size(); ++i) {
        const double p = mean(i, i + 9);
        if (p < 4 * noise_ || p > 60 * noise_) continue;
        near.push_back(std::abs(power_[i + 1] - power_[i]));
        far.push_back(std::abs(power_[i + 8] - power_[i]));
    }
    if (near.size() < 200) return 0.5;  // usual for receivers sampled faster than their bandwidth
    const double ratio = quantile(near, 0.5) / std::max(1e-300, quantile(far, 0.5));
    return std::clamp(1 - ratio * ratio, 0.0, 0.9);
}

std::size_t Signal::indexOf(double z) const
{
    const auto it = std::lower_bound(trace_.distance.begin(), trace_.distance.end(), static_cast<float>(z));
    return std::min<std::size_t>(static_cast<std::size_t>(it - trace_.distance.begin()), size() - 1);
}

double Signal::mean(std::size_t from, std::size_t to) const
{
    to = std::min(to, size());
    return to <= from ? 0 : (sums_[to] - sums_[from]) / double(to - from);
}

double Signal::sigmaAt(double power) const { return std::hypot(2.17 * noiseAt(power) / std::max(power, 1e-16), fading); }

std::optional<Line> Signal::fit(std::size_t from, std::size_t to, double reference, std::optional<double> fixedSlope) const
{
    to = std::min(to, size());
    if (to <= from + 3) return std::nullopt;
    const std::size_t blocks = std::min<std::size_t>(40, to - from);
    double w = 0, wx = 0, wy = 0, wxx = 0, wxy = 0;
    std::size_t used = 0;
    for (std::size_t b = 0; b < blocks; ++b) {
        const std::size_t i0 = from + (to - from) * b / blocks, i1 = from + (to - from) * (b + 1) / blocks;
        const double p = mean(i0, i1);
        if (p <= 0) continue;
        const double samples = std::max(1.0, double(i1 - i0) / correlation_);
        const double sigma =
            std::hypot(2.17 * noiseAt(p) / p / std::sqrt(samples), fading / std::sqrt(std::max(1.0, double(i1 - i0) / double(pulse_))));
        const double weight = 1 / (sigma * sigma);
        const double x = (z(i0) + z(i1 - 1)) / 2 - reference, y = decibels(p);
        w += weight;
        wx += weight * x;
        wy += weight * y;
        wxx += weight * x * x;
        wxy += weight * x * y;
        ++used;
    }
    if (used < (fixedSlope ? 1 : 4)) return std::nullopt;
    Line line{reference, 0, 0, 0};
    const double determinant = w * wxx - wx * wx;
    if (fixedSlope || determinant <= 1e-12 * w * wxx) {
        line.slope = fixedSlope.value_or(0);
        line.level = (wy - line.slope * wx) / w;
        line.levelError = 1 / std::sqrt(w);
        return line;
    }
    line.slope = (w * wxy - wx * wy) / determinant;
    line.level = (wy - line.slope * wx) / w;
    line.levelError = std::sqrt(wxx / determinant);
    return line;
}

}  // namespace clendo::otdr
