#include "power/cable_fit.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

namespace clendo {
namespace {

constexpr double leastReading = 0.006, leastMating = 0.03, leastFibre = 0.02;  // dB: no meter and no connector repeats better
constexpr std::size_t fewestForMatings = 6;
constexpr double tailFreedom = 4;
constexpr int rounds = 6;

double median(std::vector<double> values)
{
    if (values.empty()) return 0;
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

/// Standard deviation about zero of what is normal but for some outliers.
double robustDeviation(std::vector<double> values)
{
    for (double& v : values) v = std::abs(v);
    return 1.4826 * median(std::move(values));
}

/// The same of what may have moved in between: from the differences of neighbours, which a step spoils once.
double neighbourDeviation(const std::vector<double>& values)
{
    std::vector<double> differences;
    for (std::size_t i = 1; i < values.size(); ++i) differences.push_back((values[i] - values[i - 1]) / std::sqrt(2.0));
    return robustDeviation(std::move(differences));
}

}  // namespace

CableFit::CableFit(std::span<const CableReading> readings) : readings_(readings.begin(), readings.end())
{
    std::stable_sort(readings_.begin(), readings_.end(), [](const auto& a, const auto& b) { return a.at < b.at; });
    std::map<std::string, std::size_t> places;
    y_.resize(rows());
    for (std::size_t i = 0; i < readings_.size(); ++i) {
        const auto [it, fresh] = places.try_emplace(readings_[i].link, fibres_.size());
        if (fresh) fibres_.emplace_back();
        fibres_[it->second].rows.push_back(i);
        fibreOf_.push_back(it->second);
        wavelengths_.insert(readings_[i].wavelength);
        directions_.insert(readings_[i].direction);
        y_[Eigen::Index(i)] = readings_[i].loss.value();
    }
    begin();
}

/// What is left where only the middle of each wavelength is known.
void CableFit::begin()
{
    left_ = y_;
    for (const auto nm : wavelengths_) {
        std::vector<double> same;
        for (Eigen::Index i = 0; i < rows(); ++i)
            if (at(i).wavelength == nm) same.push_back(y_[i]);
        const double middle = median(same);
        for (Eigen::Index i = 0; i < rows(); ++i)
            if (at(i).wavelength == nm) left_[i] -= middle;
    }
}

/// Deviations within and between fibres, robustly from what is left of the readings. `settled`: what moves them together is known.
void CableFit::findSpreads(bool settled)
{
    std::vector<double> within, between, fibres;
    double perWay = 0, ways = 0;
    for (const auto& fibre : fibres_) {
        std::map<Direction, std::vector<double>> byWay;
        for (const auto row : fibre.rows) byWay[readings_[row].direction].push_back(left_[Eigen::Index(row)]);
        std::vector<double> means;
        for (const auto& [way, values] : byWay) {
            const double mean = std::accumulate(values.begin(), values.end(), 0.0) / double(values.size());
            means.push_back(mean);
            perWay += double(values.size()), ways += 1;
            if (values.size() > 1)
                for (const double v : values) within.push_back((v - mean) * std::sqrt(double(values.size()) / double(values.size() - 1)));
        }
        if (means.size() > 1) between.push_back((means[0] - means[1]) / std::sqrt(2.0));
        fibres.push_back(std::accumulate(means.begin(), means.end(), 0.0) / double(means.size()));
    }
    const double each = perWay / ways;
    spreads_.reading = std::max(leastReading, robustDeviation(within));
    const auto beyond = [](double deviation, double variance, double least) {
        return std::sqrt(std::max(deviation * deviation - variance, least * least));
    };
    spreads_.mating = between.size() >= fewestForMatings
                          ? beyond(neighbourDeviation(between), spreads_.reading * spreads_.reading / each, leastMating)
                          : leastMating;
    const double waysEach = ways / double(fibres_.size());
    if (settled) {
        const double centre = median(fibres);
        for (double& f : fibres) f -= centre;
    }
    spreads_.fibre = beyond(settled ? robustDeviation(fibres) : neighbourDeviation(fibres),
                            (spreads_.mating * spreads_.mating + spreads_.reading * spreads_.reading / each) / waysEach, leastFibre);
}

void CableFit::findWeights()
{
    for (auto& fibre : fibres_) {
        const auto n = Eigen::Index(fibre.rows.size());
        Eigen::MatrixXd covariance = Eigen::MatrixXd::Constant(n, n, spreads_.fibre * spreads_.fibre);
        Eigen::VectorXd left(n);
        for (Eigen::Index i = 0; i < n; ++i) {
            left[i] = left_[Eigen::Index(fibre.rows[std::size_t(i)])];
            for (Eigen::Index j = 0; j < n; ++j)
                if (readings_[fibre.rows[std::size_t(i)]].direction == readings_[fibre.rows[std::size_t(j)]].direction)
                    covariance(i, j) += spreads_.mating * spreads_.mating;
            covariance(i, i) += spreads_.reading * spreads_.reading;
        }
        fibre.inverse = covariance.inverse();
        fibre.weight = (tailFreedom + double(n)) / (tailFreedom + left.dot(fibre.inverse * left));
    }
}

/// The inverse covariance of all readings, weighted, times a matrix of as many rows.
Eigen::MatrixXd CableFit::weighed(const Eigen::MatrixXd& m) const
{
    Eigen::MatrixXd out = Eigen::MatrixXd::Zero(m.rows(), m.cols());
    for (const auto& fibre : fibres_)
        for (std::size_t i = 0; i < fibre.rows.size(); ++i)
            for (std::size_t j = 0; j < fibre.rows.size(); ++j)
                out.row(Eigen::Index(fibre.rows[i])) +=
                    fibre.weight * fibre.inverse(Eigen::Index(i), Eigen::Index(j)) * m.row(Eigen::Index(fibre.rows[j]));
    return out;
}

void CableFit::fit(const std::vector<Eigen::VectorXd>& columns)
{
    Eigen::MatrixXd design(rows(), Eigen::Index(columns.size()));
    for (std::size_t t = 0; t < columns.size(); ++t) design.col(Eigen::Index(t)) = columns[t];
    for (int round = 0; round < rounds; ++round) {
        findSpreads();
        findWeights();
        weighedDesign_ = weighed(design);
        Eigen::MatrixXd normal = design.transpose() * weighedDesign_;
        normal.diagonal().array() += 1e-9;
        inverse_ = normal.inverse();
        beta_ = inverse_ * (weighedDesign_.transpose() * y_);
        left_ = y_ - design * beta_;
    }
    weighedLeft_ = weighed(left_);
}

void CableFit::grow(Growing& column, Eigen::Index row, const std::vector<char>& in) const
{
    const Fibre& fibre = fibres_[fibreOf(row)];
    const auto place = Eigen::Index(std::find(fibre.rows.begin(), fibre.rows.end(), std::size_t(row)) - fibre.rows.begin());
    for (std::size_t j = 0; j < fibre.rows.size(); ++j)
        if (in[fibre.rows[j]]) column.square += 2 * fibre.weight * fibre.inverse(place, Eigen::Index(j));
    column.square += fibre.weight * fibre.inverse(place, place);
    column.along += weighedLeft_[row];
    column.withDesign += weighedDesign_.row(row).transpose();
}

double CableFit::score(const Growing& column) const
{
    const double free = column.square - column.withDesign.dot(inverse_ * column.withDesign);
    return free > column.square * 1e-6 ? column.along * column.along / free : 0;
}

double CableFit::score(const Eigen::VectorXd& column) const
{
    return score(Growing{column.dot(weighedLeft_), column.dot(weighed(column).col(0)), weighedDesign_.transpose() * column});
}

}  // namespace clendo
