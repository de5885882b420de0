#pragma once
#include <algorithm>
#include <cmath>
#include <optional>
#include <random>
#include <vector>

#include "otdr/trace.h"

// Traces made by other means than the simulated world's: pulses that are not even, two tails, speckle, stages of gain, stressed lengths.

namespace clendo::otdr {

struct Joint {
    double at = 0, loss = 0, backscatter = 0;  ///< m, dB; change of the level by the fibre behind, dB
    std::optional<double> reflectance{};       ///< dB
};

/// Fibre that loses more than the rest, dB/km more, between two places.
struct Stressed {
    double from = 0, to = 0, more = 0;
};

/// A shot of a fibre: light of a pulse with soft edges, receivers with a fast and a slow tail, white noise, speckle.
struct Shot {
    double pulseNs = 100, spacing = 0.5, length = 6000, slope = 0.2, noise = 2e-6, speckle = 0.003, slow = 3e-4, ceiling = 5, range = 9000;
    std::vector<Joint> joints{};
    std::vector<Stressed> stressed{};
    std::optional<double> endReflectance = -14.6;
    unsigned seed = 1;

    [[nodiscard]] Trace trace() const
    {
        constexpr double c = 299792458.0, n = 1.468, coefficient = -81.5;
        Trace t;
        t.wavelength = Nanometre(1550);
        t.pulse = Nanosecond(pulseNs);
        t.groupIndex = n;
        t.backscatter = Decibel(coefficient);
        const double pulse = c * pulseNs * 1e-9 / (2 * n);
        const auto points = static_cast<std::size_t>(range / spacing);
        std::mt19937 random(seed);
        std::normal_distribution<double> normal(0, 1);
        // backscatter, one-way dB; speckle averaged over a pulse
        const std::size_t wide = std::max<std::size_t>(1, static_cast<std::size_t>(pulse / spacing));
        std::vector<double> grain(points + wide), glass(points), light(points, 0);
        for (auto& g : grain) g = normal(random);
        double running = 0;
        for (std::size_t i = 0; i < points; ++i) {
            running = 0;
            for (std::size_t k = 0; k < wide; k += std::max<std::size_t>(1, wide / 12)) running += grain[i + k];
            const double z = double(i) * spacing, drawn = running / std::sqrt(std::min<double>(double(wide), 12));
            double level = -8 - slope * z / 1000 + speckle * drawn;
            for (const auto& joint : joints)
                if (z >= joint.at) level += joint.backscatter - joint.loss;
            for (const auto& s : stressed) level -= s.more * std::clamp(z - s.from, 0.0, s.to - s.from) / 1000;
            glass[i] = z < length ? std::pow(10, level / 5) : 0;
        }
        const auto reflect = [&](double at, double reflectance) {
            const auto i = static_cast<std::size_t>(at / spacing);
            const double fibre = i > 0 ? glass[i - 1] : glass[0];
            light[i] += fibre * std::pow(10, (reflectance - coefficient) / 10) / pulseNs * double(wide);
        };
        for (const auto& joint : joints)
            if (joint.reflectance) reflect(joint.at, *joint.reflectance);
        if (endReflectance && length < range - 50) reflect(length, *endReflectance);
        reflect(0, -48);
        // the pulse: soft at both ends
        std::vector<double> shape(wide);
        for (std::size_t k = 0; k < wide; ++k) shape[k] = std::pow(std::sin(M_PI * (double(k) + 0.5) / double(wide)), 0.3);
        std::vector<double> power(points, 0);
        for (std::size_t i = 0; i < points; ++i) {
            if (light[i] > 0)
                for (std::size_t k = 0; k < wide && i + k < points; ++k) power[i + k] += light[i] * shape[k] / double(wide);
            const std::size_t by = std::max<std::size_t>(1, wide / 40);
            double weight = 0, value = 0;
            for (std::size_t k = 0; k < wide; k += by) {
                value += shape[k] * (i >= k ? glass[i - k] : 0);
                weight += shape[k];
            }
            power[i] += value / weight;
        }
        double fast = 0, tail = 0;
        const double decay = std::exp(-spacing / (0.15 * pulse)), slowly = std::exp(-spacing / 60);
        for (std::size_t i = 0; i < points; ++i) {
            fast = fast * decay + power[i] * (1 - decay);
            tail = tail * slowly + power[i] * (1 - slowly);
            const double seen = fast + slow * tail + noise * normal(random);
            t.distance.push_back(static_cast<float>(double(i) * spacing));
            t.dark.push_back(seen <= 1e-8);
            t.level.push_back(static_cast<float>(std::min(ceiling - 8, seen <= 1e-8 ? -40.0 : 5 * std::log10(seen))));
        }
        return t;
    }
};

}  // namespace clendo::otdr
