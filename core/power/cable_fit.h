#pragma once
#include <Eigen/Dense>
#include <set>

#include "power/cable_model.h"

namespace clendo {

/// Readings of a cable explained by columns that move some of them together, with fibres and their matings as random effects: the numbers behind
/// fitCable(). Rows are the readings in the order of time.
class CableFit {
public:
    struct Fibre {
        std::vector<std::size_t> rows;
        Eigen::MatrixXd inverse{};  ///< of the covariance of its readings
        double weight = 1;          ///< little where it is unlike the others
    };
    /// Standard deviations, dB: of a reading, of a fibre's readings in one direction, of fibres.
    struct Spreads {
        double reading, mating, fibre;
    };

    explicit CableFit(std::span<const CableReading> readings);

    /// Anew by these columns; spreads and weights are found on the way.
    void fit(const std::vector<Eigen::VectorXd>& columns);
    /// When nothing that moves readings together is left out, spreads are taken about the middle and not from neighbours.
    void settle() { findSpreads(true); }

    [[nodiscard]] Eigen::Index rows() const { return Eigen::Index(readings_.size()); }
    [[nodiscard]] const CableReading& at(Eigen::Index row) const { return readings_[std::size_t(row)]; }
    [[nodiscard]] const std::vector<Fibre>& fibres() const { return fibres_; }
    [[nodiscard]] std::size_t fibreOf(Eigen::Index row) const { return fibreOf_[std::size_t(row)]; }
    [[nodiscard]] const std::set<Nanometre>& wavelengths() const { return wavelengths_; }
    [[nodiscard]] const std::set<Direction>& directions() const { return directions_; }
    [[nodiscard]] const Spreads& spreads() const { return spreads_; }
    /// What a column explains, dB, and its variance.
    [[nodiscard]] double size(std::size_t column) const { return beta_[Eigen::Index(column)]; }
    [[nodiscard]] double variance(std::size_t column) const { return inverse_(Eigen::Index(column), Eigen::Index(column)); }
    /// What is left of a reading, dB.
    [[nodiscard]] double left(Eigen::Index row) const { return left_[row]; }

    /// What a column that grows row by row comes to, for its score.
    struct Growing {
        double along = 0, square = 0;
        Eigen::VectorXd withDesign;
    };
    [[nodiscard]] Growing nothing() const { return {0, 0, Eigen::VectorXd::Zero(weighedDesign_.cols())}; }
    /// One more row is in it; `in`: which rows were before.
    void grow(Growing& column, Eigen::Index row, const std::vector<char>& in) const;
    /// How much better the readings were explained by it: about chi-square with one degree of freedom where there is nothing.
    [[nodiscard]] double score(const Growing& column) const;
    [[nodiscard]] double score(const Eigen::VectorXd& column) const;

private:
    void begin();
    void findSpreads(bool settled = false);
    void findWeights();
    [[nodiscard]] Eigen::MatrixXd weighed(const Eigen::MatrixXd& m) const;

    std::vector<CableReading> readings_;
    std::vector<std::size_t> fibreOf_;
    std::vector<Fibre> fibres_;  ///< in the order in which they were read first
    std::set<Nanometre> wavelengths_;
    std::set<Direction> directions_;
    Eigen::VectorXd y_, beta_, left_, weighedLeft_;
    Eigen::MatrixXd weighedDesign_, inverse_;
    Spreads spreads_{};
};

}  // namespace clendo
