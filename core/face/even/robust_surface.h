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
    const auto count = std::ssize(values);
    const Eigen::Map<const Eigen::Matrix<double, terms, Eigen::Dynamic>> places(at.front().data(), terms, count);
    const Eigen::Map<const Eigen::VectorXd> wanted(values.data(), count);
    std::vector<double> missed = values;
    Vector p = Vector::Zero();
    p[0] = medianOf(std::span(missed));
    double width = belief.widest + belief.ofMedian * p[0];
    Eigen::Matrix<double, terms, Eigen::Dynamic> weighed(terms, count);
    for (int pass = 0; pass < belief.passes; ++pass) {
        const Eigen::ArrayXd miss = (wanted - places.transpose() * p).array();
        Eigen::Map<Eigen::ArrayXd>(missed.data(), count) = miss.abs();
        weighed.noalias() = places * (1 - (miss / width).square()).max(0).square().matrix().asDiagonal();
        Eigen::Matrix<double, terms, terms> m = Eigen::Matrix<double, terms, terms>::Identity() * belief.ridge;
        m.noalias() += weighed * places.transpose();
        const Vector before = p;
        p = m.ldlt().solve(weighed * wanted);
        if (pass > 0 && (p - before).norm() < settledShare * p.norm()) break;
        width = std::clamp(6 * medianOf(std::span(missed)), belief.narrowest, std::max(belief.narrowest, width));
    }
    return p;
}

}  // namespace clendo::face
