#include "power/cable_model.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "power/cable_fit.h"

namespace clendo {
namespace {

// Practice, checked on drawn cables (tests/test_cable_model.cpp): what is smaller or less certain is not spoken of.
constexpr std::size_t fewestFibres = 6, fewestInStep = 3, mostShifts = 4;
constexpr double promisingScore = 10, certainRatio = 16, leastShift = 0.06, leastEnds = 0.12;
constexpr double leastOwn = 0.15, leastBend = 0.10, ownDeviations = 4.5;

/// What moves some of the readings together is looked for, one after the other; what is left belongs to fibres.
class CableSearch {
public:
    explicit CableSearch(std::span<const CableReading> readings) : fit_(readings) {}

    [[nodiscard]] bool tells() const { return fit_.fibres().size() >= fewestFibres; }

    CableModel model()
    {
        addCommonTerms();
        fit_.fit(columns_);
        const std::size_t common = columns_.size();
        while (columns_.size() - common < mostShifts && addBestShift()) {
            fit_.fit(columns_);
            if (isCertain(columns_.size() - 1)) continue;
            columns_.pop_back();
            shifts_.pop_back();
            fit_.fit(columns_);
            break;
        }
        fit_.settle();
        CableModel out;
        std::size_t n = 0;
        for (const auto nm : fit_.wavelengths()) out.usual.emplace(nm, Decibel(fit_.size(n++)));
        out.reading = Decibel(fit_.spreads().reading), out.mating = Decibel(fit_.spreads().mating), out.fibre = Decibel(fit_.spreads().fibre);
        addShifts(out);
        addOwn(out);
        return out;
    }

private:
    void addCommonTerms()
    {
        Eigen::VectorXd column(fit_.rows());
        for (const auto nm : fit_.wavelengths()) {
            for (Eigen::Index i = 0; i < fit_.rows(); ++i) column[i] = fit_.at(i).wavelength == nm ? 1 : 0;
            columns_.push_back(column);
            shifts_.emplace_back();
        }
        if (fit_.directions().size() < 2) return;
        for (Eigen::Index i = 0; i < fit_.rows(); ++i) column[i] = fit_.at(i).direction == Direction::AtoB ? 0.5 : -0.5;
        columns_.push_back(column);
        RunShift ends;
        ends.kind = RunShift::Kind::Ends;
        shifts_.emplace_back(ends);
    }

    struct Candidate {
        double score = promisingScore;
        RunShift shift{};
        Eigen::Index first = 0;  ///< of a step, the first reading that it is in
    };

    /// Whether the reading of a wavelength rests on another reference than the one before it.
    [[nodiscard]] bool referenceChanged(const std::vector<Eigen::Index>& rows, std::size_t n) const
    {
        for (std::size_t before = n; before-- > 0;)
            if (fit_.at(rows[before]).wavelength == fit_.at(rows[n]).wavelength) return fit_.at(rows[before]).reference != fit_.at(rows[n]).reference;
        return false;
    }

    /// A step at every place, from the last reading on: the column grows by one reading at a time.
    void scanSteps(Direction direction, std::optional<Nanometre> wavelength, Candidate& best) const
    {
        std::vector<Eigen::Index> rows;
        std::set<std::size_t> all, after;
        for (Eigen::Index i = 0; i < fit_.rows(); ++i) {
            if (fit_.at(i).direction != direction || (wavelength && fit_.at(i).wavelength != *wavelength)) continue;
            rows.push_back(i);
            all.insert(fit_.fibreOf(i));
        }
        std::vector<char> in(std::size_t(fit_.rows()), 0);
        auto column = fit_.nothing();
        for (std::size_t n = rows.size(); n-- > 1;) {
            const Eigen::Index i = rows[n];
            fit_.grow(column, i, in);
            in[std::size_t(i)] = 1;
            after.insert(fit_.fibreOf(i));
            const bool amidFibre = fit_.fibreOf(rows[n - 1]) == fit_.fibreOf(i);
            if (amidFibre || after.size() < fewestInStep || all.size() - after.size() < fewestInStep) continue;
            const double score = fit_.score(column);
            if (score <= best.score) continue;
            best.score = score, best.first = i;
            best.shift = {RunShift::Kind::Step, direction, wavelength, fit_.at(i).link, fit_.at(rows[n - 1]).link, referenceChanged(rows, n),
                          rows.size() - n,      {},        {}};
        }
    }

    [[nodiscard]] Eigen::VectorXd columnOf(const RunShift& shift, Eigen::Index first) const
    {
        Eigen::VectorXd column = Eigen::VectorXd::Zero(fit_.rows());
        std::optional<std::int64_t> begin;
        std::int64_t end = 0;
        for (Eigen::Index i = 0; i < fit_.rows(); ++i)
            if (fit_.at(i).direction == shift.direction) begin = begin.value_or(fit_.at(i).at), end = fit_.at(i).at;
        for (Eigen::Index i = 0; i < fit_.rows(); ++i) {
            if (fit_.at(i).direction != shift.direction || (shift.wavelength && fit_.at(i).wavelength != *shift.wavelength)) continue;
            if (shift.kind == RunShift::Kind::Step)
                column[i] = i >= first ? 1 : 0;
            else if (end > *begin)
                column[i] = double(fit_.at(i).at - *begin) / double(end - *begin);
        }
        return column;
    }

    void tryDrift(Direction direction, std::optional<Nanometre> wavelength, Candidate& best) const
    {
        RunShift drift;
        drift.kind = RunShift::Kind::Drift, drift.direction = direction, drift.wavelength = wavelength;
        const Eigen::VectorXd column = columnOf(drift, 0);
        drift.readings = std::size_t((column.array() > 0).count());
        const double score = fit_.score(column);
        if (score > best.score) best = {score, drift, 0};
    }

    bool addBestShift()
    {
        std::vector<std::optional<Nanometre>> colours{std::nullopt};
        if (fit_.wavelengths().size() > 1) colours.insert(colours.end(), fit_.wavelengths().begin(), fit_.wavelengths().end());
        Candidate best;
        for (const auto direction : fit_.directions())
            for (const auto& colour : colours) {
                scanSteps(direction, colour, best);
                tryDrift(direction, colour, best);
            }
        if (best.shift.readings == 0) return false;
        columns_.push_back(columnOf(best.shift, best.first));
        shifts_.emplace_back(best.shift);
        return true;
    }

    /// Whether chance does not make a column as large, with so few fibres as there are: the likelihood ratio of Student's t.
    [[nodiscard]] bool isCertain(std::size_t column) const
    {
        const double n = double(fit_.fibres().size()), wald = fit_.size(column) * fit_.size(column) / fit_.variance(column);
        return n * std::log1p(wald / n) > certainRatio;
    }

    void addShifts(CableModel& out) const
    {
        std::vector<std::pair<double, RunShift>> found;
        for (std::size_t t = 0; t < shifts_.size(); ++t) {
            if (!shifts_[t]) continue;
            RunShift shift = *shifts_[t];
            shift.size = Decibel(fit_.size(t));
            shift.standard = Decibel(std::sqrt(fit_.variance(t)));
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
        for (const auto& fibre : fit_.fibres()) {
            std::map<Direction, std::vector<double>> byWay;
            std::vector<double> shortest, longest;
            for (const auto row : fibre.rows) {
                const double left = fit_.left(Eigen::Index(row));
                byWay[fit_.at(Eigen::Index(row)).direction].push_back(left);
                if (fit_.at(Eigen::Index(row)).wavelength == *fit_.wavelengths().begin()) shortest.push_back(left);
                if (fit_.at(Eigen::Index(row)).wavelength == *fit_.wavelengths().rbegin()) longest.push_back(left);
            }
            const auto mean = [](const std::vector<double>& v) { return std::accumulate(v.begin(), v.end(), 0.0) / double(v.size()); };
            std::vector<std::pair<double, Direction>> ways;
            for (const auto& [way, values] : byWay) ways.emplace_back(mean(values), way);
            OwnLoss own{OwnLoss::Kind::Fibre, fit_.at(Eigen::Index(fibre.rows.front())).link, {}, {}, {}};
            const double wayDeviation = std::hypot(fit_.spreads().mating, fit_.spreads().reading / std::sqrt(double(fit_.wavelengths().size())));
            if (fit_.wavelengths().size() > 1 && !shortest.empty() && !longest.empty()) {
                const double more = mean(longest) - mean(shortest),
                             deviation = fit_.spreads().reading * std::sqrt(1.0 / double(shortest.size()) + 1.0 / double(longest.size()));
                if (more > leastBend && more > ownDeviations * deviation) {
                    own.kind = OwnLoss::Kind::Bend, own.size = Decibel(more), own.standard = Decibel(deviation);
                    out.own.push_back(own);
                    continue;
                }
            }
            std::sort(ways.begin(), ways.end());
            const double least = ways.front().first, most = ways.back().first, all = std::hypot(fit_.spreads().fibre, wayDeviation);
            if (ways.size() == 1) {
                if (most < leastOwn || most < ownDeviations * all) continue;
                own.kind = OwnLoss::Kind::OneEnded, own.size = Decibel(most), own.standard = Decibel(wayDeviation),
                own.direction = ways.back().second;
            } else if (most - least > leastOwn && most - least > ownDeviations * wayDeviation * std::sqrt(2.0)) {
                own.kind = OwnLoss::Kind::OneWay, own.size = Decibel(most - least), own.standard = Decibel(wayDeviation * std::sqrt(2.0));
                own.direction = ways.back().second;
            } else {
                const double both = (most + least) / 2;
                if (both < leastOwn || both < ownDeviations * std::hypot(fit_.spreads().fibre, wayDeviation / std::sqrt(2.0))) continue;
                own.size = Decibel(both), own.standard = Decibel(wayDeviation / std::sqrt(2.0));
            }
            out.own.push_back(own);
        }
        std::stable_sort(out.own.begin(), out.own.end(), [](const OwnLoss& a, const OwnLoss& b) { return a.size > b.size; });
    }

    CableFit fit_;
    std::vector<Eigen::VectorXd> columns_;
    std::vector<std::optional<RunShift>> shifts_;  ///< what each column stands for; nothing: what fibres lose alike
};

}  // namespace

std::optional<CableModel> fitCable(std::span<const CableReading> readings)
{
    CableSearch search(readings);
    if (!search.tells()) return std::nullopt;
    return search.model();
}

}  // namespace clendo
