#include "power/cable_model.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

namespace clendo {
namespace {

// Practice, checked on drawn cables (tests/test_cable_model.cpp): what is smaller or less certain is not spoken of.
constexpr std::size_t fewestFibres = 6, fewestInStep = 3, mostShifts = 4;
constexpr double promisingScore = 10, certainRatio = 16, leastShift = 0.06, leastEnds = 0.12;
constexpr double leastOwn = 0.15, leastBend = 0.10, ownDeviations = 4.5;
constexpr double leastReading = 0.006, leastMating = 0.03, leastFibre = 0.02;  // dB: no meter and no connector repeats better
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

/// What moves some of the readings together: a column of the model.
struct Term {
    std::optional<RunShift> shift;
    Eigen::VectorXd column;
};

class CableFit {
public:
    explicit CableFit(std::span<const CableReading> readings) : readings_(readings.begin(), readings.end())
    {
        std::stable_sort(readings_.begin(), readings_.end(), [](const auto& a, const auto& b) { return a.at < b.at; });
        std::map<std::string, std::size_t> places;
        for (std::size_t i = 0; i < readings_.size(); ++i) {
            const auto [it, fresh] = places.try_emplace(readings_[i].link, fibres_.size());
            if (fresh) fibres_.emplace_back();
            fibres_[it->second].rows.push_back(i);
            fibreOf_.push_back(it->second);
            wavelengths_.insert(readings_[i].wavelength);
            directions_.insert(readings_[i].direction);
        }
        y_.resize(rows());
        for (Eigen::Index i = 0; i < rows(); ++i) y_[i] = at(i).loss.value();
    }

    [[nodiscard]] bool tells() const { return fibres_.size() >= fewestFibres; }

    CableModel model()
    {
        addCommonTerms();
        fit();
        while (shiftsFound() < mostShifts) {
            auto next = bestShift();
            if (!next) break;
            terms_.push_back(std::move(*next));
            fit();
            if (isCertain(terms_.size() - 1)) continue;
            terms_.pop_back();
            fit();
            break;
        }
        findSpreads(true);
        CableModel out;
        std::size_t n = 0;
        for (const auto nm : wavelengths_) out.usual.emplace(nm, Decibel(beta_[Eigen::Index(n++)]));
        out.reading = Decibel(reading_), out.mating = Decibel(mating_), out.fibre = Decibel(fibre_);
        addShifts(out);
        addOwn(out);
        return out;
    }

private:
    struct Fibre {
        std::vector<std::size_t> rows;
        Eigen::MatrixXd inverse;  ///< of the covariance of its readings
        double weight = 1;        ///< little where it is unlike the others
    };

    [[nodiscard]] Eigen::Index rows() const { return Eigen::Index(readings_.size()); }
    [[nodiscard]] const CableReading& at(Eigen::Index i) const { return readings_[std::size_t(i)]; }
    [[nodiscard]] std::size_t shiftsFound() const
    {
        return std::size_t(
            std::count_if(terms_.begin(), terms_.end(), [](const Term& t) { return t.shift && t.shift->kind != RunShift::Kind::Ends; }));
    }

    void addCommonTerms()
    {
        for (const auto nm : wavelengths_) {
            Term term{{}, Eigen::VectorXd::Zero(rows())};
            for (Eigen::Index i = 0; i < rows(); ++i) term.column[i] = at(i).wavelength == nm ? 1 : 0;
            terms_.push_back(std::move(term));
        }
        if (directions_.size() < 2) return;
        RunShift ends;
        ends.kind = RunShift::Kind::Ends;
        Term term{ends, Eigen::VectorXd::Zero(rows())};
        for (Eigen::Index i = 0; i < rows(); ++i) term.column[i] = at(i).direction == Direction::AtoB ? 0.5 : -0.5;
        terms_.push_back(std::move(term));
    }

    /// Deviations within and between fibres, robustly from what is left of the readings. `settled`: what moves them together is known.
    void findSpreads(bool settled = false)
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
        reading_ = std::max(leastReading, robustDeviation(within));
        const auto beyond = [](double deviation, double variance, double least) {
            return std::sqrt(std::max(deviation * deviation - variance, least * least));
        };
        mating_ = between.size() >= fewestFibres ? beyond(neighbourDeviation(between), reading_ * reading_ / each, leastMating) : leastMating;
        const double waysEach = ways / double(fibres_.size());
        if (settled) {
            const double centre = median(fibres);
            for (double& f : fibres) f -= centre;
        }
        fibre_ = beyond(settled ? robustDeviation(fibres) : neighbourDeviation(fibres), (mating_ * mating_ + reading_ * reading_ / each) / waysEach,
                        leastFibre);
    }

    void findWeights()
    {
        for (auto& fibre : fibres_) {
            const auto n = Eigen::Index(fibre.rows.size());
            Eigen::MatrixXd covariance = Eigen::MatrixXd::Constant(n, n, fibre_ * fibre_);
            Eigen::VectorXd left(n);
            for (Eigen::Index i = 0; i < n; ++i) {
                left[i] = left_[Eigen::Index(fibre.rows[std::size_t(i)])];
                for (Eigen::Index j = 0; j < n; ++j)
                    if (readings_[fibre.rows[std::size_t(i)]].direction == readings_[fibre.rows[std::size_t(j)]].direction)
                        covariance(i, j) += mating_ * mating_;
                covariance(i, i) += reading_ * reading_;
            }
            fibre.inverse = covariance.inverse();
            fibre.weight = (tailFreedom + double(n)) / (tailFreedom + left.dot(fibre.inverse * left));
        }
    }

    /// The inverse covariance of all readings, weighted, times a vector or a matrix of as many rows.
    template <class M>
    [[nodiscard]] M weighed(const M& m) const
    {
        M out = M::Zero(m.rows(), m.cols());
        for (const auto& fibre : fibres_)
            for (std::size_t i = 0; i < fibre.rows.size(); ++i)
                for (std::size_t j = 0; j < fibre.rows.size(); ++j)
                    out.row(Eigen::Index(fibre.rows[i])) +=
                        fibre.weight * fibre.inverse(Eigen::Index(i), Eigen::Index(j)) * m.row(Eigen::Index(fibre.rows[j]));
        return out;
    }

    void fit()
    {
        design_.resize(rows(), Eigen::Index(terms_.size()));
        for (std::size_t t = 0; t < terms_.size(); ++t) design_.col(Eigen::Index(t)) = terms_[t].column;
        if (left_.size() == 0) {
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
        for (int round = 0; round < rounds; ++round) {
            findSpreads();
            findWeights();
            weighedDesign_ = weighed(design_);
            Eigen::MatrixXd normal = design_.transpose() * weighedDesign_;
            normal.diagonal().array() += 1e-9;
            inverse_ = normal.inverse();
            beta_ = inverse_ * (weighedDesign_.transpose() * y_);
            left_ = y_ - design_ * beta_;
        }
        weighedLeft_ = weighed(left_);
    }

    /// How much better the readings were explained by a column: about chi-square with one degree of freedom where there is nothing.
    [[nodiscard]] double score(double along, double square, const Eigen::VectorXd& withDesign) const
    {
        const double free = square - withDesign.dot(inverse_ * withDesign);
        return free > square * 1e-6 ? along * along / free : 0;
    }

    struct Candidate {
        double score = promisingScore;
        RunShift shift;
        Eigen::Index first = 0;  ///< of a step, the first reading that it is in
    };

    /// Whether the reading of a wavelength rests on another reference than the one before it.
    [[nodiscard]] bool referenceChanged(const std::vector<Eigen::Index>& rows, std::size_t n) const
    {
        for (std::size_t before = n; before-- > 0;)
            if (at(rows[before]).wavelength == at(rows[n]).wavelength) return at(rows[before]).reference != at(rows[n]).reference;
        return false;
    }

    void scanSteps(Direction direction, std::optional<Nanometre> wavelength, Candidate& best) const
    {
        const auto in = [&](Eigen::Index i) { return at(i).direction == direction && (!wavelength || at(i).wavelength == *wavelength); };
        std::vector<Eigen::Index> rows;
        for (Eigen::Index i = 0; i < this->rows(); ++i)
            if (in(i)) rows.push_back(i);
        std::set<std::size_t> all;
        for (const auto i : rows) all.insert(fibreOf_[std::size_t(i)]);
        std::vector<char> on(readings_.size(), 0);
        std::set<std::size_t> after;
        double along = 0, square = 0;
        Eigen::VectorXd withDesign = Eigen::VectorXd::Zero(design_.cols());
        for (std::size_t n = rows.size(); n-- > 1;) {
            const Eigen::Index i = rows[n];
            const auto f = fibreOf_[std::size_t(i)];
            const Fibre& fibre = fibres_[f];
            const auto place = Eigen::Index(std::find(fibre.rows.begin(), fibre.rows.end(), std::size_t(i)) - fibre.rows.begin());
            for (std::size_t j = 0; j < fibre.rows.size(); ++j)
                if (on[fibre.rows[j]]) square += 2 * fibre.weight * fibre.inverse(place, Eigen::Index(j));
            square += fibre.weight * fibre.inverse(place, place);
            on[std::size_t(i)] = 1;
            along += weighedLeft_[i];
            withDesign += weighedDesign_.row(i).transpose();
            after.insert(f);
            if (fibreOf_[std::size_t(rows[n - 1])] == f || after.size() < fewestInStep || all.size() - after.size() < fewestInStep) continue;
            const double s = score(along, square, withDesign);
            if (s <= best.score) continue;
            best.score = s, best.first = i;
            best.shift = {};
            best.shift.direction = direction, best.shift.wavelength = wavelength;
            best.shift.since = at(i).link, best.shift.until = at(rows[n - 1]).link;
            best.shift.newReference = referenceChanged(rows, n);
            best.shift.readings = rows.size() - n;
        }
    }

    [[nodiscard]] Eigen::VectorXd columnOf(const RunShift& shift, Eigen::Index first) const
    {
        Eigen::VectorXd column = Eigen::VectorXd::Zero(rows());
        std::int64_t begin = 0, end = 0;
        for (Eigen::Index i = rows(); i-- > 0;)
            if (at(i).direction == shift.direction) begin = at(i).at, end = std::max(end, at(i).at);
        for (Eigen::Index i = 0; i < rows(); ++i) {
            if (at(i).direction != shift.direction || (shift.wavelength && at(i).wavelength != *shift.wavelength)) continue;
            if (shift.kind == RunShift::Kind::Step)
                column[i] = i >= first ? 1 : 0;
            else if (end > begin)
                column[i] = double(at(i).at - begin) / double(end - begin);
        }
        return column;
    }

    void tryDrift(Direction direction, std::optional<Nanometre> wavelength, Candidate& best) const
    {
        RunShift drift;
        drift.kind = RunShift::Kind::Drift, drift.direction = direction, drift.wavelength = wavelength;
        const Eigen::VectorXd column = columnOf(drift, 0);
        drift.readings = std::size_t((column.array() > 0).count());
        const double s = score(column.dot(weighedLeft_), column.dot(weighed(column)), weighedDesign_.transpose() * column);
        if (s > best.score) best = {s, drift, 0};
    }

    [[nodiscard]] std::optional<Term> bestShift() const
    {
        std::vector<std::optional<Nanometre>> colours{std::nullopt};
        if (wavelengths_.size() > 1) colours.insert(colours.end(), wavelengths_.begin(), wavelengths_.end());
        Candidate best;
        for (const auto direction : directions_)
            for (const auto& colour : colours) {
                scanSteps(direction, colour, best);
                tryDrift(direction, colour, best);
            }
        if (best.shift.readings == 0) return std::nullopt;
        return Term{best.shift, columnOf(best.shift, best.first)};
    }

    /// Whether chance does not make a term as large, with so few fibres as there are: the likelihood ratio of Student's t.
    [[nodiscard]] bool isCertain(std::size_t term) const
    {
        const auto place = Eigen::Index(term);
        const double n = double(fibres_.size()), wald = beta_[place] * beta_[place] / inverse_(place, place);
        return n * std::log1p(wald / n) > certainRatio;
    }

    void addShifts(CableModel& out) const
    {
        std::vector<std::pair<double, RunShift>> found;
        for (std::size_t t = 0; t < terms_.size(); ++t) {
            if (!terms_[t].shift) continue;
            RunShift shift = *terms_[t].shift;
            const auto place = Eigen::Index(t);
            shift.size = Decibel(beta_[place]);
            shift.standard = Decibel(std::sqrt(inverse_(place, place)));
            const double certain = std::pow(shift.size / shift.standard, 2);
            const bool ends = shift.kind == RunShift::Kind::Ends;
            if (std::abs(shift.size.value()) < (ends ? leastEnds : leastShift) || !isCertain(t)) continue;
            if (ends && shift.size < Decibel(0)) shift.direction = Direction::BtoA, shift.size = -shift.size;
            found.emplace_back(certain, shift);
        }
        std::stable_sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
        for (auto& [certain, shift] : found) out.shifts.push_back(std::move(shift));
    }

    /// What is left of a fibre: mean, by direction, and the longest wavelength less the shortest.
    void addOwn(CableModel& out) const
    {
        for (const auto& fibre : fibres_) {
            std::map<Direction, std::vector<double>> byWay;
            std::vector<double> shortest, longest;
            for (const auto row : fibre.rows) {
                const double left = left_[Eigen::Index(row)];
                byWay[readings_[row].direction].push_back(left);
                if (readings_[row].wavelength == *wavelengths_.begin()) shortest.push_back(left);
                if (readings_[row].wavelength == *wavelengths_.rbegin()) longest.push_back(left);
            }
            const auto mean = [](const std::vector<double>& v) { return std::accumulate(v.begin(), v.end(), 0.0) / double(v.size()); };
            std::vector<std::pair<double, Direction>> ways;
            for (const auto& [way, values] : byWay) ways.emplace_back(mean(values), way);
            OwnLoss own{OwnLoss::Kind::Fibre, readings_[fibre.rows.front()].link, {}, {}, {}};
            const double wayDeviation = std::hypot(mating_, reading_ / std::sqrt(double(wavelengths_.size())));
            if (wavelengths_.size() > 1 && !shortest.empty() && !longest.empty()) {
                const double more = mean(longest) - mean(shortest),
                             deviation = reading_ * std::sqrt(1.0 / double(shortest.size()) + 1.0 / double(longest.size()));
                if (more > leastBend && more > ownDeviations * deviation) {
                    own.kind = OwnLoss::Kind::Bend, own.size = Decibel(more), own.standard = Decibel(deviation);
                    out.own.push_back(own);
                    continue;
                }
            }
            std::sort(ways.begin(), ways.end());
            const double least = ways.front().first, most = ways.back().first, all = std::hypot(fibre_, wayDeviation);
            if (ways.size() == 1) {
                if (most < leastOwn || most < ownDeviations * all) continue;
                own.kind = OwnLoss::Kind::OneEnded, own.size = Decibel(most), own.standard = Decibel(wayDeviation),
                own.direction = ways.back().second;
            } else if (most - least > leastOwn && most - least > ownDeviations * wayDeviation * std::sqrt(2.0)) {
                own.kind = OwnLoss::Kind::OneWay, own.size = Decibel(most - least), own.standard = Decibel(wayDeviation * std::sqrt(2.0));
                own.direction = ways.back().second;
            } else {
                const double both = (most + least) / 2;
                if (both < leastOwn || both < ownDeviations * std::hypot(fibre_, wayDeviation / std::sqrt(2.0))) continue;
                own.size = Decibel(both), own.standard = Decibel(wayDeviation / std::sqrt(2.0));
            }
            out.own.push_back(own);
        }
        std::stable_sort(out.own.begin(), out.own.end(), [](const OwnLoss& a, const OwnLoss& b) { return a.size > b.size; });
    }

    std::vector<CableReading> readings_;  ///< in the order of time
    std::vector<std::size_t> fibreOf_;
    std::vector<Fibre> fibres_;
    std::set<Nanometre> wavelengths_;
    std::set<Direction> directions_;
    std::vector<Term> terms_;
    Eigen::VectorXd y_, beta_, left_, weighedLeft_;
    Eigen::MatrixXd design_, weighedDesign_, inverse_;
    double reading_ = leastReading, mating_ = leastMating, fibre_ = leastFibre;
};

}  // namespace

std::optional<CableModel> fitCable(std::span<const CableReading> readings)
{
    CableFit fit(readings);
    if (!fit.tells()) return std::nullopt;
    return fit.model();
}

}  // namespace clendo
