#pragma once
#include <cmath>
#include <numbers>
#include <random>

namespace clendo::drawn {

/// Random choices of one picture; the same seed makes the same ones.
class Dice {
public:
    explicit Dice(unsigned seed) : engine_(seed) {}

    double between(double low, double high) { return std::uniform_real_distribution(low, high)(engine_); }
    /// Evenly over decades.
    double decades(double low, double high) { return low * std::pow(high / low, between(0, 1)); }
    double normal(double sigma) { return std::normal_distribution(0.0, sigma)(engine_); }
    double angle() { return between(0, 2 * std::numbers::pi); }
    int count(double mean) { return std::poisson_distribution(mean)(engine_); }
    int below(int n) { return std::uniform_int_distribution(0, n - 1)(engine_); }
    bool chance(double p) { return between(0, 1) < p; }

private:
    std::mt19937 engine_;
};

}  // namespace clendo::drawn
