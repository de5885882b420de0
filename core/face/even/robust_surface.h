#pragma once
#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <span>
#include <vector>

#include "face/median.h"

namespace clendo::face {

/// What a robust fit believes: values farther off than `widest` (and `ofMedian` of the median value) never, ones nearer than `narrowest` always.
struct Belief {
    double widest = 0, ofMedian = 0, narrowest = 0;
    double ridge = 1e-6;  ///< keeps terms small that nothing speaks for
    int passes = 6;
};

constexpr double settledShare = 1e-4;  // by which another pass changes the weights, where it is not worth its time

/// Weights of `terms` functions whose sum meets most values: least squares with Tukey's biweight, whose width follows the median of what is missed,
/// so that dirt does not bend it. `at`: the functions at the place of each value; the first one is constant. Both of the same length, not empty.
template <int terms>
Eigen::Matrix<double, terms, 1> robustSurface(const std::vector<Eigen::Matrix<double, terms, 1>>& at, const std::vector<double>& values,
                                              const Belief& belief)
{
    using Vector = Eigen::Matrix<double, terms, 1>;
    std::vector<double> missed = values;
    Vector p = Vector::Zero();
    p[0] = medianOf(std::span(missed));
    double width = belief.widest + belief.ofMedian * p[0];
    for (int pass = 0; pass < belief.passes; ++pass) {
        Eigen::Matrix<double, terms, terms> m = Eigen::Matrix<double, terms, terms>::Identity() * belief.ridge;
        Vector v = Vector::Zero();
        for (std::size_t i = 0; i < at.size(); ++i) {
            const double miss = values[i] - at[i].dot(p), u = miss / width;
            missed[i] = std::abs(miss);
            if (std::abs(u) >= 1) continue;
            const double weight = (1 - u * u) * (1 - u * u);
            m.template selfadjointView<Eigen::Lower>().rankUpdate(at[i], weight);
            v += weight * values[i] * at[i];
        }
        const Vector before = p;
        p = m.ldlt().solve(v);  // of its lower half
        if (pass > 0 && (p - before).norm() < settledShare * p.norm()) break;
        width = std::clamp(6 * medianOf(std::span(missed)), belief.narrowest, std::max(belief.narrowest, width));
    }
    return p;
}

}  // namespace clendo::face
