#pragma once
#include <Eigen/Dense>
#include <cstddef>
#include <optional>
#include <vector>

#include "otdr/slopes.h"

namespace clendo::otdr {

/// A step on a stretch of fibre: where the trace leaves the line before it; positive where light is lost.
struct Step {
    double at = 0;  ///< m
    double loss = 0, error = 0;
    double bump = 0;  ///< dB by which it rises first: a faint reflection
};

/// A reflection: where it begins, and how far it rises over the fibre, dB.
struct Peak {
    double at = 0, height = 0;
};

/// Fibre between two reflections: one line, broken by steps, under the tail of the reflection before it. Least squares over block means of the power
/// in dB; noise by the light there, speckle by the length that is averaged; the slope is known beforehand and may change a little at each step.
class Stretch {
public:
    /// Over the points [from, to). `peak`: the reflection before it, of which a tail may be left; nothing: none.
    /// Steps (by place) are measured, none is looked for. Nothing where there is too little light or fibre.
    static std::optional<Stretch> fit(const Signal& signal, std::size_t from, std::size_t to, const std::optional<Peak>& peak,
                                      const std::vector<double>& steps, const SlopePrior& prior);

    [[nodiscard]] std::size_t from() const { return from_; }
    [[nodiscard]] std::size_t to() const { return to_; }
    /// The fibre's level in dB at a place, also beyond its ends, on the ramp of a step as well.
    [[nodiscard]] double level(double z) const { return row(z, false).dot(values_); }
    [[nodiscard]] double levelError(double z) const;
    /// The level of the line that begins at or before a place: a step at it counts as done.
    [[nodiscard]] double levelBehind(double z) const { return row(z, true).dot(values_); }
    /// What is left of the tail, dB.
    [[nodiscard]] double tail(double z) const;
    /// Slope behind a place, dB per metre, and its error.
    [[nodiscard]] double slope(double z) const;
    [[nodiscard]] double slopeError(double z) const;
    /// There was a reflection before it.
    [[nodiscard]] bool tailed() const { return tailed_; }
    [[nodiscard]] const std::vector<Step>& steps() const { return steps_; }
    /// Ends it with a step of which only the begin of its ramp was seen, up to point `to`: the line behind has the slope of the one before.
    void endWith(const Step& step, std::size_t to);
    void setBump(std::size_t step, double height) { steps_[step].bump = height; }
    /// By how much more the blocks scatter than the noise says; at least 1.
    [[nodiscard]] double scatter() const { return scatter_; }

private:
    [[nodiscard]] Eigen::Index segment(double z, bool done) const;
    [[nodiscard]] Eigen::VectorXd row(double z, bool done) const;

    std::size_t from_ = 0, to_ = 0;
    double ramp_ = 0, tailFrom_ = 0, scatter_ = 1;
    bool tailed_ = false;
    std::vector<double> starts_;  ///< m, of each line
    std::vector<double> decays_;  ///< m, of the tails that are kept
    std::vector<Step> steps_;
    Eigen::VectorXd values_;
    Eigen::MatrixXd covariance_;
};

}  // namespace clendo::otdr
