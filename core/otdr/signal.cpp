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
    const double r = neighbourCorrelation();
    light_ = lightNoise(r);
    correlation_ = (1 + r) / (1 - r);
    speckle_ = measuredSpeckle();
}

/// Noise that grows with the light: variance per power over the dark variance, the median over blocks of fibre. From how samples bend that are nearer
/// to each other than a pulse, so that speckle, which they share, has no part in it. `neighbours`: correlation of neighbours.
double Signal::lightNoise(double neighbours) const
{
    constexpr std::size_t block = 64;
    const std::size_t lag = std::clamp<std::size_t>(pulse_ / 4, 1, 8);
    const double r = std::pow(neighbours, double(lag)), alike = 6 - 8 * r + 2 * r * r;
    std::vector<double> shares;
    for (std::size_t i = 0; i + block + 2 * lag < power_.size(); i += block) {
        const double p = mean(i, i + block);
        if (p < 3 * noise_) continue;
        std::vector<double> bends;
        for (std::size_t k = i; k < i + block; ++k) bends.push_back(std::abs(power_[k] - 2 * power_[k + lag] + power_[k + 2 * lag]));
        constexpr double medianOfNormal = 0.6745;
        const double sigma = quantile(std::move(bends), 0.5) / medianOfNormal;
        shares.push_back((sigma * sigma / alike - noise_ * noise_) / p);
    }
    return shares.size() < 5 ? 0 : std::max(0.0, quantile(std::move(shares), 0.5));
}

double Signal::blockVariance(double power, std::size_t samples) const
{
    const double p = std::max(power, 1e-16), n = double(std::max<std::size_t>(1, samples));
    const double white = 2.17 * noiseAt(p) / p;
    return white * white * std::max(1.0 / n, std::min(1.0, correlation_ / n)) + speckle_ * speckle_ * pulseMetres_ / (n * spacing_);
}

namespace {

/// What the second difference of three block means in a row has of the variance of speckle that is correlated over one pulse (by the share of it that
/// two places have in common). `block`: length of a block in pulses.
double bendOfSpeckle(double block)
{
    constexpr int points = 12;
    const auto shared = [&](double apart) {
        double sum = 0;
        for (int i = 0; i < points; ++i)
            for (int k = 0; k < points; ++k) sum += std::max(0.0, 1 - std::abs(apart + double(k - i) / points) * block);
        return sum / (points * points);
    };
    return 6 * shared(0) - 8 * shared(1) + 2 * shared(2);
}

}  // namespace

/// What the means of three short blocks in a row bend more than the noise makes them is speckle. Steps bend few of them.
double Signal::measuredSpeckle() const
{
    constexpr double leastSpeckle = 0.0008, mostSpeckle = 0.06;  // dB
    const std::size_t block = std::max<std::size_t>(4, pulse_ / 2);
    std::vector<double> bends, whites;
    for (std::size_t i = 0; i + 3 * block < power_.size(); i += block) {
        const double a = mean(i, i + block), b = mean(i + block, i + 2 * block), c = mean(i + 2 * block, i + 3 * block);
        if (std::min({a, b, c}) < 20 * noise_) continue;
        const double bend = decibels(a) - 2 * decibels(b) + decibels(c), white = 2.17 * noiseAt(b) / b;
        bends.push_back(bend * bend);
        whites.push_back(6 * white * white * std::max(1.0, correlation_) / double(block));
    }
    if (bends.size() < 12) return fading;
    constexpr double medianOfSquare = 0.455;  // of a normal variate of variance 1
    const double more = quantile(std::move(bends), 0.5) / medianOfSquare - quantile(std::move(whites), 0.5);
    return std::clamp(std::sqrt(std::max(0.0, more / bendOfSpeckle(double(block) * spacing_ / pulseMetres_))), leastSpeckle, mostSpeckle);
}

double Signal::noiseAt(double power) const { return std::sqrt(noise_ * noise_ + light_ * std::max(0.0, power)); }

double Signal::neighbourCorrelation() const
{
    // where the noise rules but is not clipped: how samples in a row bend, against samples eight apart
    constexpr std::size_t apart = 8;
    std::vector<double> near, far;
    for (std::size_t i = 0; i + 2 * apart < power_.size(); ++i) {
        const double p = mean(i, i + 2 * apart + 1);
        if (p < 4 * noise_ || p > 100 * noise_) continue;
        near.push_back(std::abs(power_[i] - 2 * power_[i + 1] + power_[i + 2]));
        far.push_back(std::abs(power_[i] - 2 * power_[i + apart] + power_[i + 2 * apart]));
    }
    if (near.size() < 200) return 0.5;  // usual for receivers sampled faster than their bandwidth
    const double ratio = quantile(near, 0.5) / std::max(1e-300, quantile(far, 0.5));
    return std::clamp(2 - std::sqrt(1 + 3 * std::min(1.0, ratio * ratio)), 0.0, 0.9);  // of a first-order process
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
        const double sigma = std::hypot(2.17 * noiseAt(p) / p / std::sqrt(samples),
                                        std::max(fading, speckle_) / std::sqrt(std::max(1.0, double(i1 - i0) / double(pulse_))));
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
