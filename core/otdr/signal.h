#pragma once
#include <cstddef>
#include <optional>
#include <vector>

#include "otdr/trace.h"

namespace clendo::otdr {

/// A straight line on the dB trace: level at `reference` and slope per metre, with the standard error of the level there.
struct Line {
    double reference = 0, level = 0, slope = 0;
    double levelError = 0;
    [[nodiscard]] double at(double z) const { return level + slope * (z - reference); }
};

/// The trace as received power (10^(y/5)), with its noise: what the event search works on. Indices are points of the trace.
class Signal {
public:
    explicit Signal(const Trace& trace);

    [[nodiscard]] std::size_t size() const { return power_.size(); }
    [[nodiscard]] double power(std::size_t i) const { return power_[i]; }
    [[nodiscard]] const std::vector<double>& powers() const { return power_; }
    [[nodiscard]] double z(std::size_t i) const { return double(trace_.distance[i]); }
    [[nodiscard]] std::size_t indexOf(double z) const;
    [[nodiscard]] double noise() const { return noise_; }               ///< sigma of the power, linear
    [[nodiscard]] double noiseAt(double power) const;                   ///< with the share that grows with the light
    [[nodiscard]] double correlation() const { return correlation_; }   ///< how many samples count as one
    [[nodiscard]] double mean(std::size_t from, std::size_t to) const;  ///< of the power over [from, to)
    [[nodiscard]] double sigmaAt(double power) const;                   ///< of one sample, dB
    [[nodiscard]] std::size_t pulseSamples() const { return pulse_; }   ///< at least 1
    [[nodiscard]] double pulseMetres() const { return pulseMetres_; }
    [[nodiscard]] double spacing() const { return spacing_; }
    /// Over which a step takes place: the pulse and what the receiver rounds off.
    [[nodiscard]] double rampMetres() const { return 1.15 * pulseMetres_ + spacing_; }
    /// Coherent fading that averaging does not remove, dB over one pulse length; from the trace itself.
    [[nodiscard]] double speckle() const { return speckle_; }
    /// Of the mean of so many samples about a power, in dB²: noise, and speckle over their length.
    [[nodiscard]] double blockVariance(double power, std::size_t samples) const;

    /// Least squares line over [from, to), read at `reference`; power is averaged in blocks first so that noise does not bias
    /// the logarithm. `fixedSlope` where the window is too short for its own. Nothing with less than 4 usable blocks.
    [[nodiscard]] std::optional<Line> fit(std::size_t from, std::size_t to, double reference, std::optional<double> fixedSlope = {}) const;

private:
    [[nodiscard]] double neighbourCorrelation() const;
    [[nodiscard]] double lightNoise(double neighbours) const;
    [[nodiscard]] double measuredSpeckle() const;

    const Trace& trace_;
    std::vector<double> power_, sums_;
    double noise_ = 0, light_ = 0, speckle_ = 0, correlation_ = 1, spacing_ = 1, pulseMetres_ = 1;
    std::size_t pulse_ = 1;
};

double decibels(double power);  ///< 5 lg

}  // namespace clendo::otdr
